"""Visits: who sees which unit, in which order of the day, and what became of each attempt."""
