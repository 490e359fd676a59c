"""A record is, member by member, what the standard dataclass makes of the same class."""

import copy
import pickle
import unittest
from dataclasses import FrozenInstanceError, asdict, astuple, dataclass, fields
from dataclasses import replace as standard_replace
from typing import ClassVar

from hypothesis import given
from hypothesis import strategies as st

from ennead.studio.frozen_map import FrozenMap
from ennead.studio.record import record, replace


def _classes(make):
    @make(frozen=True)
    class Few:
        a: int
        b: tuple[int, ...] = ()
        c: FrozenMap = FrozenMap()
        d: ClassVar[int] = 3

        def __post_init__(self):
            object.__setattr__(self, "b", tuple(sorted(self.b)))

    @make(frozen=True)
    class One:
        a: int = 0

    @make(frozen=True)
    class Said:
        a: int = 0

        def __repr__(self):
            return "said"

    return Few, One, Said


OURS, STANDARD = _classes(record), _classes(dataclass)
values = st.one_of(st.integers(-2, 2), st.lists(st.integers(0, 3), max_size=2).map(tuple))


def outcome(deed):
    """Return what a deed gives, or the kind of error it raises."""
    try:
        return "gave", deed()
    except (TypeError, AttributeError) as error:
        return "raised", type(error)


class Parity(unittest.TestCase):
    @given(
        st.sampled_from((0, 1, 2)),
        st.lists(values, max_size=4),
        st.dictionaries(st.sampled_from(("a", "b", "c", "e")), st.just((2, 1))),
    )
    def test_it_is_made_compared_hashed_said_and_changed_as_the_standard_one(self, which, args, named):
        ours, standard = OURS[which], STANDARD[which]
        made = [outcome(lambda k=k: k(*args, **named)) for k in (ours, standard)]
        self.assertEqual(made[0][0], made[1][0], (args, named))
        if made[0][0] == "raised":
            self.assertEqual(made[0], made[1])
            return
        a, b = made[0][1], made[1][1]
        self.assertEqual(vars(a), vars(b))
        self.assertEqual((repr(a), astuple(a), asdict(a)), (repr(b), astuple(b), asdict(b)))
        self.assertEqual(outcome(lambda: hash(a))[0], outcome(lambda: hash(b))[0])
        twin = ours(*args, **named)
        self.assertEqual((a == twin, a != twin, a == b, copy.deepcopy(a) == a), (True, False, False, True))
        if outcome(lambda: hash(a))[0] == "gave":
            self.assertEqual(hash(a), hash(twin))
        self.assertEqual(
            [a == replace(a, a=n) for n in range(-2, 3)], [b == standard_replace(b, a=n) for n in range(-2, 3)]
        )
        for one in (a, b):
            for deed in (
                lambda o=one: setattr(o, "a", 1),
                lambda o=one: setattr(o, "e", 1),
                lambda o=one: delattr(o, "a"),
            ):
                self.assertRaises(FrozenInstanceError, deed)

    def test_classes_tell_the_same_of_themselves_and_pass_through_pickle(self):
        for ours, standard in zip(OURS, STANDARD, strict=True):
            self.assertEqual([(f.name, f.type) for f in fields(ours)], [(f.name, f.type) for f in fields(standard)])
            self.assertEqual(ours.__match_args__, standard.__match_args__)
        from ennead.studio.house import Wire

        wire = Wire(0, 1, 1, 2)
        self.assertEqual(pickle.loads(pickle.dumps(wire)), wire)
        self.assertRaises(TypeError, record, frozen=False)
