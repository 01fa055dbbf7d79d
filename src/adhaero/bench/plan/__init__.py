"""The Plan station: from a question to pieces that are dealt to boards.

What is varied and held constant, how many pieces of each set, which board each comes from, what follows from that, and
a dry run on paper. Settling makes the pieces: they begin as `planned`, and lead to the saw.
"""
