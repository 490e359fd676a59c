"""Findings set aside: they stay so through renamings and edits elsewhere, and come back with whatever they rest on."""

import random
from contextlib import suppress

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication, QPushButton

from bench.mixed import mixed
from ennead.checks.all_checks import find_all
from ennead.checks.setting_aside import digest_of, sort_out
from ennead.demo.skerry import skerry
from ennead.edits.cables import connect, disconnect, make_up, move_plugs
from ennead.edits.change import change
from ennead.edits.house import add_place, rename_unit
from ennead.edits.session import add_source, change_source, remove_source, set_loop_numbers, set_price
from ennead.edits.sessions import add_session, choose_session
from ennead.edits.set_aside import set_aside, take_up
from ennead.edits.settings import set_mode
from ennead.studio.errors import BadValue, EnneadError, UnknownObject
from ennead.studio.ids import SessionId, SourceId
from ennead.studio.record import replace
from ennead.studio.set_aside import SetAside
from ennead.studio.subjects import Subject
from ennead.survey.survey import Survey
from tests.builders import EXPANDER, INTERFACE, end, one_fibre, plug, read_back, rig
from tests.desk_case import DeskCase
from tests.trials import few
from tests.verb_case import VerbCase

#: Rules about names themselves.
_OF_NAMES = {"names_alike", "pair_hidden", "label_too_long"}


def sorted_out(studio):
    return sort_out(find_all(Survey(studio)), studio.set_aside, studio.current.id)


def put_away(studio, rule=None, session=""):
    """Return the studio with all its findings, or those of a rule, set aside."""
    for f in find_all(Survey(studio)):
        if rule in (None, f.rule):
            studio = set_aside(studio, SetAside(f.rule, f.subject.key, digest_of(f), SessionId(session), "Known"))
    return read_back(studio)


def renamed(studio):
    """Return a studio in which everything has another name, with edits that concern nothing in it."""
    for unit in studio.units.values():
        studio = rename_unit(studio, unit.id, f"{unit.name} anew")
    for source in studio.session_sources:
        studio = change_source(studio, source.id, name=f"{source.name} anew")
    studio = set_price(add_place(studio, "Loft"), "fibre", 3.0)
    return choose_session(add_session(studio, "Another evening"), studio.session)


class Aside(VerbCase):
    def test_everything_stays_aside_through_renamings_and_edits_elsewhere(self):
        tried = 0
        for studio in (skerry(), *[mixed(n) for n in range(few(4, 6))]):
            away = put_away(studio)
            self.assertEqual(sorted_out(away).open, ())
            rows = sorted_out(renamed(away))
            self.assertEqual([f for f in rows.open if f.rule not in _OF_NAMES], [])
            tried += len(rows.aside)
        self.assertGreater(tried, few(60, 100))
        # It is kept from the eye alone: Allocate sees no difference.
        studio = mixed(4)
        self.assertEqual(*[self.json("allocate", s, status=None) for s in (studio, put_away(studio))])

    def test_another_cable_or_another_socket_brings_it_back(self):
        cables = sockets = 0
        for n in few((12, 13, 14), range(30)):
            studio, dice = mixed(n), random.Random(n)
            free = [s.end for s in Survey(studio).input_points]
            held = {p for c in studio.cables.values() for p in c.plugs}
            for finding in find_all(Survey(studio)):
                away = put_away(studio, finding.rule)
                for key in [k for k in finding.concerns if k in studio.cables]:
                    cable = studio.cables[key]
                    # An old file may hold two plugs in one socket; that is no longer made.
                    with suppress(EnneadError):
                        cables += self._is_back(make_up(disconnect(away, key), cable.plugs, cable.wires), finding)
                leads = [
                    c for c in studio.cables.values() if finding.subject.key in c.lines and c.runs == "from a source"
                ]
                there = [e for e in free if e not in held]
                if not leads or not there or finding.rule in _OF_NAMES:
                    continue
                try:
                    moved = move_plugs(away, [(leads[0].id, leads[0].plugs[-1], dice.choice(there))])
                except EnneadError:
                    continue
                if finding.cause and any("." in c for c in finding.cause) and len(leads) == 1:
                    sockets += self._is_back(moved, finding, of_socket=str(leads[0].plugs[-1].port))
        self.assertGreater(min(cables, sockets), few(2, 5), (cables, sockets))

    def _is_back(self, studio, finding, of_socket=""):
        """Say whether the rule still speaks of the subject; where it does, it must not be aside by the old entry."""
        if of_socket and not any(c.endswith(f".{of_socket}") for c in finding.cause):
            return 0
        rows, same = sorted_out(studio), 0
        for aside in rows.aside:
            one = aside.finding
            # What is aside rests on nothing new, and not on what is gone.
            self.assertTrue(
                all(k in studio.cables for k in one.concerns if k[:1] == "C"), (finding.message, one.message)
            )
        for one in rows.open:
            same += (one.rule, one.subject) == (finding.rule, finding.subject)
            if same and of_socket:
                self.assertNotEqual({*one.cause}, {*finding.cause})
        return same > 0

    def test_one_more_member_or_a_graver_matter_brings_it_back_and_less_of_it_elsewhere_does_not(self):
        alike = rig(INTERFACE)
        for name in ("Choir", "Choir", "Fiddle"):
            alike = add_source(alike, name)
        alike = put_away(alike, "names_alike")
        self.assertEqual(len(sorted_out(alike).aside), 1)
        self.assertEqual(
            [f.rule for f in sorted_out(add_source(alike, "Choir")).open if f.rule == "names_alike"], ["names_alike"]
        )
        # In what order they are concerned does not matter.
        (aside,) = sorted_out(alike).aside
        turned = replace_concerns(aside.finding)
        self.assertEqual(digest_of(turned), digest_of(aside.finding))
        # A link that disagrees in another mode is another matter.
        link = put_away(other_mode(one_fibre()), "formats_disagree")
        self.assertEqual(len(sorted_out(link).aside), 1)
        mended = other_mode(link)
        self.assertEqual(sorted_out(mended).aside, ())
        self.assertEqual(len(sorted_out(other_mode(mended)).aside), 1)
        studio = skerry()
        loops = [f for f in find_all(Survey(studio)) if f.rule == "loop_numbers_differ"]
        if loops:
            graver = set_loop_numbers(put_away(studio), "always")
            self.assertEqual(
                {f.severity for f in sorted_out(graver).open if f.rule == "loop_numbers_differ"}, {"trouble"}
            )

    def test_it_is_of_one_session_or_of_all_and_leaves_with_its_subject(self):
        studio = plug(other_mode(one_fibre()), "Bass", "U1", "mic1", kind="ribbon", phantom="needed")
        here = put_away(studio, session=studio.session)
        every = put_away(studio)
        for away, stays in ((here, False), (every, True)):
            other = add_session(away, "Tomorrow")
            self.assertEqual(bool(sorted_out(choose_session(other, SessionId("N2"))).aside), stays)
        gone = change("Remove", remove_source, SourceId("S1")).apply(every)
        self.assertTrue(any(e.subject == "S1" for e in every.set_aside))
        self.assertFalse(any(e.subject == "S1" for e in gone.set_aside))
        self.assertEqual(take_up(every, every.set_aside[0]).set_aside, every.set_aside[1:])
        for entry, wrong in (
            (replace(every.set_aside[0], session=SessionId("N99")), UnknownObject),
            (replace(every.set_aside[0], digest="x"), BadValue),
            (replace(every.set_aside[0], reason="r" * 501), BadValue),
        ):
            with self.assertRaises(wrong):
                set_aside(every, entry)

    def test_check_lists_it_apart_with_who_and_why(self):
        studio = other_mode(one_fibre())
        (trouble,) = [f for f in find_all(Survey(studio)) if f.severity == "trouble"]
        self.json("check", studio, status=1)
        entry = SetAside(
            trouble.rule,
            trouble.subject.key,
            digest_of(trouble),
            studio.session,
            "Rented, goes back",
            "Engineer",
            "2026-12-01",
        )
        said = self.json("check", set_aside(studio, entry))
        (row,) = said["set_aside"]
        self.assertEqual(
            [row[k] for k in ("rule", "message", "reason", "by", "at", "scope")],
            [trouble.rule, trouble.message, "Rented, goes back", "Engineer", "2026-12-01", "session"],
        )
        self.assertNotIn(trouble.rule, [f["rule"] for f in said["findings"]])


def other_mode(studio):
    """Return a studio whose first unit has its first mode otherwise."""
    mode = studio.profile_of("U1").modes[0]
    now = studio.settings_of("U1").modes.get(mode.key, mode.default)
    return set_mode(studio, "U1", mode.key, next(c.key for c in mode.choices if c.key != now))


def replace_concerns(finding):
    from dataclasses import replace as renew

    return renew(finding, concerns=finding.concerns[::-1], cause=finding.cause[::-1], message="Other words", working=())


class InTheMargin(DeskCase):
    start = connect(rig(INTERFACE, EXPANDER), end("U2", "optical_out"), end("U1", "optical_in"))

    def button(self, name):
        return self.window.margin.findChild(QPushButton, name)

    def test_a_finding_is_set_aside_with_a_reason_undone_and_taken_up_again(self):
        self.table.select(Subject("unit", "U2"))
        self.settle()
        before = self.table.findings
        self.assertTrue(before)

        def answer():
            dialog = QApplication.activeModalWidget()
            dialog.reason.setText("It stays in the rack")
            dialog.by.setText("Engineer")
            dialog.take.click()

        QTimer.singleShot(0, answer)
        self.click(self.button("set_aside"))
        self.until(lambda: self.studio.set_aside)
        self.settle()
        (entry,) = self.studio.set_aside
        self.assertEqual(
            (entry.reason, entry.by, entry.session), ("It stays in the rack", "Engineer", self.studio.session)
        )
        self.assertEqual(len(self.table.findings), len(before) - 1)
        self.assertTrue(self.button("take_up").isVisible())
        self.window.activateWindow()
        self.settle()
        self.press("Ctrl+Z")
        self.assertEqual((self.studio.set_aside, self.table.findings), ((), before))
        self.press("Ctrl+Shift+Z")
        self.settle()
        self.click(self.button("take_up"))
        self.assertEqual((self.studio.set_aside, self.table.findings), ((), before))
