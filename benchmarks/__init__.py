"""Ratios of speed, each measured against a baseline in the same run: python -m benchmarks."""
