"""The Rig sheet: shelf, strips, cables by keyboard and by dragging, and the margin's settings and fixes."""

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QCheckBox, QComboBox, QLineEdit

from ennead.studio.subjects import Subject
from tests.builders import EXPANDER, INTERFACE, end, one_fibre, plug, rig
from tests.desk_case import DeskCase


class Rig(DeskCase):
    start = rig(INTERFACE, EXPANDER)

    def setUp(self):
        super().setUp()
        self.press("Alt+2")
        self.view = self.window.sheets[2].view
        self.settle()

    def middle(self, unit, port):
        self.view.settle()
        box = self.view.layout_now.by_end[end(unit, port)]
        self.view.reveal(QRectF(box.x, box.y, box.width, box.height))
        self.settle()
        return QPointF(box.x + box.width / 2, box.y + 30) - self.view.offset()

    def select_port(self, unit, port):
        self.table.select(Subject("port", unit, port))
        self.view.setFocus()
        self.settle()

    def field(self, label, kind):
        self.settle()
        return self.window.margin.findChild(kind, f"fact_{label}")

    def test_a_fibre_is_dragged_from_socket_to_socket(self):
        before = self.studio
        port = self.view.viewport()
        self.drag(port, self.middle("U1", "optical_in"), self.middle("U1", "line_out1"))
        self.assertIn("analogue output and a digital input do not join", self.said[-1])
        self.window.resize(1280, 1100)
        self.settle()
        # Esc drops a drag; what is let go then is nothing.
        self.drag(port, self.middle("U1", "optical_in"), self.middle("U2", "optical_out"), "Escape")
        self.assertEqual((self.studio, self.view.gesture), (before, None))
        self.drag(port, self.middle("U1", "optical_in"), self.middle("U2", "optical_out"))
        (cable,) = self.studio.cables.values()
        self.assertEqual((cable.start, cable.end), (end("U2", "optical_out"), end("U1", "optical_in")))
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, before)
        self.drag(port, self.middle("U1", "mic1"), self.middle("U2", "mic1"))
        self.assertIn("Both are inputs", self.said[-1])

    def test_enter_asks_for_a_partner_and_delete_pulls_the_cable(self):
        self.select_port("U2", "optical_out")

        def choose(dialog):
            self.type("interface optical", into=dialog.typed)
            self.press("Return", into=dialog.typed)

        self.in_dialog("connect_dialog", choose)
        self.press("Return")
        self.assertEqual([c.end for c in self.studio.cables.values()], [end("U1", "optical_in")])
        self.assertEqual(self.table.undo_stack.undoText()[:8], "Connect ")
        self.press("Delete")
        self.assertEqual(dict(self.studio.cables), {})
        self.press("Ctrl+Z", "Ctrl+Z")
        self.assertEqual(dict(self.studio.cables), {})
        self.assertFalse(self.table.undo_stack.canUndo())

    def test_arrows_walk_from_socket_to_socket(self):
        self.select_port("U1", "mic1")
        self.press("Right", "Right")
        self.assertEqual(self.table.selection, Subject("port", "U1", "mic3"))
        self.press("Down")
        below = self.table.selection
        self.assertNotEqual(below.port[:3], "mic")
        self.press("Up", "Left")
        self.assertEqual(self.table.selection.key, "U1")
        self.press("Up", "Up", "Up")
        self.assertEqual(self.table.selection.port[:3], "mic")

    def test_hit_test_is_the_inverse_of_the_layout(self):
        self.view.settle()
        for box in self.view.layout_now.by_end.values():
            self.assertIs(self.view.layout_now.port_at(box.x + box.width / 2, box.y + 5), box)

    def test_shelf_takes_a_box_by_typing(self):
        self.open(rig())
        self.press("Alt+2")
        self.assertEqual(self.app.focusWidget().objectName(), "shelf_filter")
        self.type("eight one optical pair")
        self.press("Return")
        self.type("no such box")
        self.press("Return")
        self.assertEqual([u.name for u in self.studio.units.values()], ["Interface"])
        self.assertEqual([p.name for p in self.studio.profiles.values()], [INTERFACE])
        self.assertEqual(self.table.selection, Subject("unit", "U1"))
        self.window.sheets[2].view.setFocus()
        self.press("Ctrl+Z")
        self.assertEqual((dict(self.studio.units), dict(self.studio.hosts)), ({}, {}))

    def test_margin_sets_modes_banks_and_names(self):
        self.table.select(Subject("unit", "U1"))
        box = self.field("48 V 1–4", QCheckBox)
        box.setFocus()
        self.press("Space")
        self.assertEqual(self.studio.settings_of("U1").phantom, ("a",))
        mode = self.field("Optical port", QComboBox)
        mode.setFocus()
        self.press("Down")
        self.assertEqual(dict(self.studio.settings_of("U1").modes), {"optical": "spdif-optical"})
        name = self.field("Name", QLineEdit)
        name.setFocus()
        name.selectAll()
        self.type("Pier")
        self.press("Return")
        self.assertEqual(self.studio.units["U1"].name, "Pier")
        name = self.field("Name", QLineEdit)
        name.setFocus()
        name.clear()
        self.press("Return")
        self.assertIn("at least one letter", self.said[-1])
        self.assertEqual(self.field("Name", QLineEdit).text(), "Pier")
        place = self.field("Place", QLineEdit)
        place.setFocus()
        self.type("Hall")
        self.press("Return")
        self.assertEqual(self.studio.places[self.studio.units["U1"].place].name, "Hall")
        self.undo_all()
        self.assertEqual(self.studio, self.start)

    def test_margin_measures_and_ticks_a_cable(self):
        self.open(one_fibre())
        self.table.select(Subject("port", "U1", "optical_in"))
        length = self.field("Length, m", QLineEdit)
        length.setFocus()
        self.type("long")
        self.press("Return")
        self.assertIn("“long” cannot be the length of a cable", self.said[-1])
        length = self.field("Length, m", QLineEdit)
        length.setFocus()
        length.selectAll()
        self.type("5,5 m")
        self.press("Return")
        self.assertEqual(self.studio.cables["C1"].length_m, 5.5)
        self.click(self.button("Tick C1 as wired"))
        self.assertIn("C1", self.studio.as_built.cables)
        service = self.field("In service", QCheckBox)
        self.assertTrue(service.isChecked())
        service.click()
        self.settle()
        self.assertEqual(self.studio.units["U1"].faults, {"optical_in": "out of service"})

    def test_one_press_sets_both_units_to_the_expander_s_clock(self):
        self.open(one_fibre())
        self.press("Alt+2")
        self.table.select(Subject("unit", "U1"))
        self.click(self.button("Let Eight-preamp optical expander lead"))
        clocks = [self.studio.settings_of(u).clock_source for u in ("U1", "U2")]
        self.assertEqual(clocks, ["optical", "internal"])
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, one_fibre())

    def test_a_click_selects_a_unit_and_delete_removes_it(self):
        strip = next(s for s in self.view.layout_now.strips if s.unit == "U1")
        QTest.mouseClick(
            self.view.viewport(),
            Qt.MouseButton.LeftButton,
            pos=(QPointF(strip.x + strip.width - 20, strip.y + 12) - self.view.offset()).toPoint(),
        )
        self.assertEqual(self.table.selection, Subject("unit", "U1"))
        self.view.setFocus()
        self.press("Delete")
        self.assertEqual(list(self.studio.units), ["U2"])
        self.assertEqual(self.table.selection.kind, "nothing")
        self.press("Ctrl+Z")
        self.assertEqual(self.studio, self.start)

    def test_pictures_differ_between_free_planned_and_wired(self):
        def picture(studio):
            self.open(studio)
            self.window.go(2)
            self.settle()
            return self.window.sheets[2].view.grab().toImage()

        from ennead.edits.as_built import tick_cable

        planned = plug(rig(INTERFACE), "Fiddle", "U1", "mic1")
        shots = [picture(s) for s in (rig(INTERFACE), planned, tick_cable(planned, "C1"))]
        self.assertNotEqual(shots[0], shots[1])
        self.assertNotEqual(shots[1], shots[2])
