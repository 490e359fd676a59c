"""The examples in docstrings, run as they stand."""

import doctest
import unittest

from ennead.planning.clock import arborescence
from ennead.standards import clock, levels, rates
from ennead.studio import ranges
from ennead.survey import rings, skew


def load_tests(loader: unittest.TestLoader, tests: unittest.TestSuite, pattern: str | None) -> unittest.TestSuite:
    del loader, pattern
    for module in (arborescence, clock, levels, rates, ranges, rings, skew):
        found = doctest.DocTestFinder(exclude_empty=True).find(module)
        assert any(case.examples for case in found), module.__name__
        tests.addTest(doctest.DocTestSuite(module))
    return tests
