"""Leads made up in the window, a box switched off, and what stands beside what is planned."""

from dataclasses import replace

from PyQt6.QtWidgets import QAbstractButton

from ennead.edits.as_built import tick_cable, tick_settings
from ennead.edits.cables import connect
from ennead.edits.change import change
from ennead.edits.house import remove_unit
from ennead.edits.session import change_source
from ennead.edits.settings import set_phantom
from ennead.planning.routing.lead_offers import lead_offers
from ennead.studio.subjects import Subject
from ennead.survey.survey import Survey
from ennead.survey.view import View
from tests.builders import INTERFACE, end, plug, rig
from tests.desk_case import DeskCase
from tests.verb_case import VerbCase

STAGE_BOX, INSERTS = "stage box, eight ways to a multipin", "two-channel preamp with insert jacks"


def house():
    studio = plug(rig(INTERFACE, INSERTS, "mono compressor", STAGE_BOX), "Vox", "U2", "mic1")
    return connect(studio, end("U2", "line_out1"), end("U1", "mic1"))


class Leads(DeskCase):
    start = house()

    def made_up(self):
        return [c for c in self.studio.all_cables if not c.is_plain]

    def test_an_insert_lead_is_made_up_by_key_and_undone(self):
        before = self.studio
        self.press("Alt+2")
        self.window.go(2, Subject("port", "U2", "insert1"))
        self.in_dialog("lead_dialog", lambda d: (d.rows.setCurrentRow(0), d.take.click()))
        self.press("Ctrl+Shift+Y")
        self.settle()
        (lead,) = self.made_up()
        self.assertEqual(lead.plugs, (end("U2", "insert1"), end("U3", "line1"), end("U3", "line_out1")))
        self.assertEqual(self.table.survey.signal_paths[0].way.passes, ("U2", "U3", "U2", "U1"))
        self.undo_all()
        self.assertEqual(self.studio, before)
        self.press("Ctrl+Shift+Z")
        self.assertEqual(len(self.made_up()), 1)

    def test_a_socket_with_nothing_to_offer_says_why_and_the_wrong_selection_too(self):
        said = []
        self.table.said.connect(said.append)
        self.press("Alt+2")
        self.press("Ctrl+Shift+Y")
        self.assertIn("Select a socket on the Rig first", said[-1])
        self.window.go(2, Subject("port", "U1", "optical_in"))
        words = []
        self.in_dialog("lead_dialog", lambda d: (words.append(d.words.text()), d.reject()))
        self.press("Ctrl+Shift+Y")
        self.assertIn("No lead of several plugs fits", words[0])

    def test_every_offer_can_be_carried_out_and_joins_what_it_says(self):
        kinds = set()
        for unit in self.studio.units.values():
            for port in self.studio.profile_of(unit.id).ports:
                here = end(unit.id, port.key)
                for offer in lead_offers(Survey(self.studio), here):
                    after = offer.does.apply(self.studio)
                    (lead,) = [c for c in after.all_cables if c not in self.studio.all_cables]
                    self.assertEqual((lead.plugs[0], len(lead.wires)), (here, len(offer.wires)))
                    self.assertEqual([f for f in Survey(after).nets.values() if len(f.drivers) > 1], [])
                    kinds.add(offer.text.split(",")[0].split(" through")[0])
        self.assertEqual(kinds, {"Y lead", "Stereo lead", "Insert lead", "Loom"})

    def test_a_box_is_switched_off_in_the_margin_and_the_line_says_so(self):
        self.window.go(2, Subject("unit", "U2"))
        self.settle()
        next(b for b in self.window.margin.findChildren(QAbstractButton) if b.text() == "Switched off").click()
        self.settle()
        self.assertTrue(self.studio.settings_of("U2").off)
        self.assertEqual(self.table.survey.signal_paths[0].gap.cause, "off")
        self.undo_all()
        self.assertFalse(self.studio.settings_of("U2").off)


class WhatStands(DeskCase):
    def test_the_chart_shows_what_is_ticked_and_an_edit_leads_back_to_the_plan(self):
        studio = plug(plug(rig(INTERFACE), "Fiddle", "U1", "mic1"), "Viola", "U1", "mic2")
        self.open(tick_cable(studio, "C1"))
        self.press("Ctrl+Shift+T")
        sheet = self.window.lines_sheet
        self.assertEqual((self.window.number, sheet.standing.isVisible()), (5, True))
        self.assertEqual([r.number for r in sheet.chart.rows()], ["1", ""])
        self.assertIn("one cable is ticked", sheet.standing.words.text())
        self.click(sheet.standing.back)
        self.assertEqual(([r.number for r in sheet.chart.rows()], sheet.standing.isVisible()), (["1", "2"], False))
        self.press("Ctrl+Shift+T")
        self.table.do(change("Rename", change_source, "S1", name="Violin"))
        self.assertFalse(self.table.standing)


class Standing(VerbCase):
    def test_what_stands_is_followed_whatever_is_planned(self):
        studio = plug(plug(rig(INTERFACE, INTERFACE), "Fiddle", "U1", "mic1"), "Viola", "U2", "mic2")
        bank = studio.profile_of("U1").bank_of_port["mic1"].key
        stood = tick_settings(tick_cable(tick_cable(set_phantom(studio, "U1", bank, on=True), "C1"), "C2"), "U1")
        later = set_phantom(plug(studio, "Bass", "U1", "mic5"), "U1", bank, on=False)
        later = replace(later, as_built=stood.as_built)
        survey = Survey(later, view=View(standing=True))
        self.assertEqual([r.driver.number if r.driver else None for r in survey.signal_paths], [1, 24, None])
        self.assertEqual(survey.phantom_on["U1"], (bank,))
        # A box that has left the house is not followed; what stood in it stays on record.
        gone = remove_unit(later, "U2")
        self.assertEqual([r.driver for r in Survey(gone, view=View(standing=True)).signal_paths[1:]], [None, None])
        self.assertIn("C2", gone.stood)
        rows = self.json("lines", later, "--standing")["runs"]
        self.assertEqual([r["driver_number"] for r in rows], [1, 24, None])
