"""Tests of Pondus; run them with `bin/pondus test`."""

from hypothesis import settings

settings.register_profile("pondus", deadline=None)  # a loaded machine is slow, not wrong
settings.load_profile("pondus")
