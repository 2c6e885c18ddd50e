"""Small simulated stand-ins for the world outside: a fleet of phones."""
