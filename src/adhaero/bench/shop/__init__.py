"""The shop: what stands in it and how it counts.

Glues, boards, clamps, rigs, hours, units and the log of the air. No piece changes here; every other room plans and
computes with what is written on these cards.
"""
