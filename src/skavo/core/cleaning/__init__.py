"""The cleaning plan: steps replayed over the raw data, each changed cell accounted for."""
