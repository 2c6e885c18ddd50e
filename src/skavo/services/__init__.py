"""What each station does, for the interface, the command line and jobs alike: short transactions, nothing of HTTP."""
