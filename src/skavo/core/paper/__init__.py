"""The questionnaire on paper: what is printed for each line, in words that an interviewer can follow with a pen."""
