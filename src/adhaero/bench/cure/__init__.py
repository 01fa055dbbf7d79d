"""The Cure station: between clamps and test.

A piece is here while it is `curing`: it waits, goes into water or outdoors, is checked and measured, and
leaves `ready`.
"""
