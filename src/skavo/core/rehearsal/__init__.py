"""Made-up interviews, and the proof of what can never be reached."""
