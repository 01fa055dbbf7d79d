"""Bringing in what others keep: tables of earlier breaks."""
