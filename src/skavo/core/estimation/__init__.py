"""Figures with their base and their margin."""
