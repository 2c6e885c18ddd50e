"""The HTTP interface: parse, authorise, call, answer."""
