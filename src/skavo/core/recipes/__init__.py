"""Data sets by their recipes: which sources, brought under one another, without whom, and what their rows are."""
