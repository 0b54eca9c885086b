"""Tests of Pondus; run them with `bin/pondus test`."""

from hypothesis import HealthCheck, settings

# A loaded machine is slow, not wrong: neither a test's examples nor their making have a time.
settings.register_profile("pondus", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("pondus")
