"""One module per open format."""
