"""Skavo: surveys from an empty questionnaire to numbers that can be defended."""

__version__ = "0.1.0"
