"""Strength statistics: as read, comparisons, power and the words for them."""
