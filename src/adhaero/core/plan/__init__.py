"""Planning a trial: what is varied, which piece comes off which board, what it can tell."""
