"""What a person does, a module a station; each function is one transaction."""
