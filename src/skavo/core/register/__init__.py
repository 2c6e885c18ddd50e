"""Registers: the units that a survey returns to, of which kinds they are, how they hang together, what became of them."""
