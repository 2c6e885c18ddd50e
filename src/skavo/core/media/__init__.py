"""Pictures, sounds and films of a questionnaire: where they are used, in which language, which of them look odd."""
