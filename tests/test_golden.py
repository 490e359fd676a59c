"""Every verb and every question on the demo, a house, older forms and random studios: said as it was written down.

A difference that is meant is written down anew with ``python -m bench.answers``, and read through before it is committed.
"""

import json
import unittest
from functools import partialmethod

from bench.answers import FOLDER, NAMED, RANDOM, answers, as_text, digests


class Golden(unittest.TestCase):
    maxDiff = 4_000


def _word_by_word(test, name):
    test.assertEqual(as_text(answers(NAMED[name]())), (FOLDER / f"{name}.txt").read_text(encoding="utf-8"))


def _by_digest(test, family, number, kept):
    studio = RANDOM[family][0](int(number))
    test.assertIsNotNone(studio)
    found = digests(answers(studio))
    differ = [question for question in kept if found.get(question) != kept[question]]
    test.assertEqual((differ, sorted(found)), ([], sorted(kept)), f"see python -m bench.answers {family} {number}")


for _name in NAMED:
    setattr(Golden, f"test_{_name.replace('-', '_')}", partialmethod(_word_by_word, _name))
for _family in RANDOM:
    for _number, _kept in json.loads((FOLDER / f"{_family}.json").read_text(encoding="utf-8")).items():
        setattr(Golden, f"test_{_family}_{_number}", partialmethod(_by_digest, _family, _number, _kept))
