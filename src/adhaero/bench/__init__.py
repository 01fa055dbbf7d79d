"""What a person does: one room a station, in the order of the work; each function is one transaction.

`shop` → `plan` → `saw` → `glue` → `cure` → `breaking` → `compare`, with `timetable` and `over` (Today, rack, undo)
beside them, and `facts`, from which all of them read a trial.
"""
