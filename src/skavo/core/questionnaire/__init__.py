"""The questionnaire: its script, its checks, and the release that is compiled from it."""
