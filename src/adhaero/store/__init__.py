"""The shop file: one SQLite database, plain SQL, every change of it traced."""
