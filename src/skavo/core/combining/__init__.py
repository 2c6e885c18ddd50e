"""Outside tables joined to the interviews, with a report of what matched and what did not."""
