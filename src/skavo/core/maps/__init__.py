"""Where things lie: shapes as files bring them, and what a map sheet is."""
