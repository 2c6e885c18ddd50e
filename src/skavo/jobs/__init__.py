"""Long work, done in the background with its progress shown."""
