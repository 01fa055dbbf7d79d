"""The Break station: a piece is loaded until it breaks or holds.

A piece comes here `ready` and leaves `broken`. Its load is typed or recorded from a rig, the point of the trace chosen,
its broken face judged; trying again brings it back to `ready`.
"""
