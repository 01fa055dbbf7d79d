"""Adhaero: the bench book for testing glued joints, from the question to the answer."""

__version__ = "0.1.0"
