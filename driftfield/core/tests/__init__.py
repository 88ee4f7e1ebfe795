"""Tests of the core."""

from hypothesis import HealthCheck, settings

# A machine that is busy with something else is no fault of the code.
settings.register_profile("busy", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("busy")
