"""A trial as one page to read and to print."""
