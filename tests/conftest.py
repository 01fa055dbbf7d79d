"""How property tests run: as many cases as usual, none of them timed."""

from hypothesis import settings

settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")
