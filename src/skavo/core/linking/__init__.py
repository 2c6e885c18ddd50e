"""Finding the same unit in two tables whose keys do not agree: blocks, comparisons, weights, verdicts."""
