"""The Glue station: glue-ups on the clock.

A piece comes here `sawn`, is put into a glue-up, spread, closed and clamped, and leaves `clamped`; with its clamps off
it is `curing`. A piece made as another set is mended here too.
"""
