"""The interview engine: what the phone, the desk and the server all run. Standard library only."""
