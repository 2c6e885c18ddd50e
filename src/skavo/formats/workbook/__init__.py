"""The questionnaire workbook: a script written in a spreadsheet, in and out without loss."""
