"""A composed questionnaire as a PDF."""
