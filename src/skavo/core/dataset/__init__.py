"""Interviews laid out as tables, one for the interviews and one per roster."""
