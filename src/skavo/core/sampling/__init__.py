"""How many to ask, whom to draw, and what became of them: sizes, drawing, outcome rates."""
