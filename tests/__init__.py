"""Tests: rules are run strictly here, so that one that fails does not hide in a finding; no clock decides a result."""

from hypothesis import HealthCheck, settings

from ennead.checks import all_checks

all_checks.strict = True
# The machine is shared: that it was slow for a second says nothing of the code.
settings.register_profile("shared", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("shared")
