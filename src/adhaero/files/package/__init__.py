"""The data package of a trial: a zip of plain tables that any program reads, each with its schema."""
