"""Tests: rules are run strictly here, so that one that fails does not hide in a finding."""

from ennead.checks import all_checks

all_checks.strict = True
