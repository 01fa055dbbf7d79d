"""What is written of one trial, and what follows from it.

Every room reads here: the rows of a trial, the plan and the pieces as they stand, on one shelf of kept books; and what
must hold before a row is changed.
"""
