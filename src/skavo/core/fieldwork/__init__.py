"""How a team's phones work in the field."""
