"""Conclusions in one's own words, read wholly or refused, and held against the numbers."""
