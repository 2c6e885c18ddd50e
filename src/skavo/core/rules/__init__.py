"""The rule language: text to syntax tree to typed tree to a function of an interview."""
