"""The rules of the job and its computation; no interface, no database."""
