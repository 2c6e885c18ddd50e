"""Texts of a script in its languages: which there are, what was translated from what, out to a translator and back."""
