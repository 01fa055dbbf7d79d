"""Pure computation of the job: no input or output, no clock, no database, no web."""
