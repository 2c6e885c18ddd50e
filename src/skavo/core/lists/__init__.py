"""Code lists as things of their own: how they hang together, ready ones, merging, bringing up to date from a table."""
