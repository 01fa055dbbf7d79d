"""What is seen across the stations: Today, the rack, pieces in the making, undo and history.

A piece can be voided from here at any state before it was loaded (`void`), and brought back to where it was.
"""
