"""The timetable of a trial: which task when, on which clamps, by which hands.

It is searched from a settled plan and what stands in the shop; pieces change in the other rooms, and the timetable
shows what has slipped.
"""
