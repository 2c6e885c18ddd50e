"""What can be proved of a questionnaire: rules translated for the solver z3, every claim of reach tried in the engine."""
