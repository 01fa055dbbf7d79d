"""The shop's book: one table of glues (joints, preps) over all trials, what it does not know, and what to test next.

It changes no piece: it reads what was broken, and keeps what things are called and which tables a person joined.
"""
