"""Driver numbers against tables worked by hand, at every rate and optical mode."""

import unittest

from ennead.edits.computer import number_at
from ennead.edits.session import set_rate
from ennead.edits.settings import set_driver_map, set_mode
from ennead.standards.rates import RATES_HZ, speed_of
from ennead.survey.numbering import number_working
from ennead.survey.survey import Survey
from tests.builders import EXPANDER, INTERFACE, rig

#: Block: first–last at single, double, quad speed; worked on paper from the profile's description.
ADAT_MODE = {
    "Analogue": ((1, 8), (1, 8), (1, 8)),
    "S/PDIF": ((9, 10), (9, 10), (9, 10)),
    "Loopback": ((11, 14), (11, 14), (11, 14)),
    "ADAT": ((15, 22), (15, 18), (15, 16)),
}
SPDIF_MODE = {
    "Analogue": ((1, 8), (1, 8), (1, 8)),
    "S/PDIF": ((9, 10), (9, 10), None),
    "Loopback": ((11, 14), (11, 14), (9, 12)),
}
FIXED = {
    "Analogue": ((1, 8),) * 3,
    "ADAT A": ((9, 16),) * 3,
    "ADAT B": ((17, 24),) * 3,
    "S/PDIF": ((25, 26),) * 3,
    "Talkback": ((27, 27),) * 3,
}
CLASS = {
    "Input": ((1, 8),) * 3,
    "Digital": ((9, 10),) * 3,
    "Optical A": ((11, 18), (11, 14), (11, 12)),
    "Optical B": ((19, 26), (15, 18), (13, 14)),
}
SPEEDS = ("single", "double", "quad")


def blocks(studio, unit="U1"):
    """Return first and last number of every block of a unit's inputs."""
    found = {}
    for driver in Survey(studio).numbering.inputs:
        if driver.unit == unit:
            first, _ = found.get(driver.channel.block.label, (driver.number, 0))
            found[driver.channel.block.label] = (first, driver.number)
    return found


class HandWorkedTables(unittest.TestCase):
    def assert_table(self, studio, table):
        for rate in RATES_HZ:
            column = SPEEDS.index(speed_of(rate))
            wanted = {label: spans[column] for label, spans in table.items() if spans[column]}
            with self.subTest(rate=rate):
                self.assertEqual(blocks(set_rate(studio, rate)), wanted)

    def test_adat_stands_after_loopback_and_shrinks_with_speed(self):
        self.assert_table(rig(INTERFACE), ADAT_MODE)

    def test_spdif_mode_has_no_adat_block(self):
        self.assert_table(set_mode(rig(INTERFACE), "U1", "optical", "spdif-optical"), SPDIF_MODE)

    def test_fixed_map_keeps_its_numbers_and_leaves_dead_ones(self):
        studio = rig("eight-preamp interface, two optical pairs")
        self.assert_table(studio, FIXED)
        at_96 = Survey(set_rate(studio, 96_000)).numbering.inputs
        self.assertEqual([d.number for d in at_96 if not d.channel.live], [13, 14, 15, 16, 21, 22, 23, 24])
        fast = Survey(set_rate(studio, 96_000))
        self.assertEqual(fast.numbering.input_at(fast.way("U1", "optical_a_in", 4).lands).number, 12)
        self.assertNotIn(("optical_a_in", 5), fast.paths_onward["U1"])

    def test_another_driver_map_numbers_otherwise(self):
        studio = set_driver_map(rig("eight-preamp interface, two optical pairs"), "U1", "class")
        self.assert_table(studio, CLASS)

    def test_second_optical_pair_wakes_at_double_speed(self):
        table = {
            "Analogue": ((1, 8),) * 3,
            "ADAT": ((9, 16), (9, 16), (9, 12)),
            "Loopback": ((17, 18), (17, 18), (13, 14)),
        }
        self.assert_table(rig("eight-preamp interface, second optical pair above 48 kHz only"), table)

    def test_loopback_before_spdif_in_a_fixed_map(self):
        table = {"Analogue": ((1, 4),) * 3, "Loopback": ((5, 6),) * 3, "S/PDIF": ((7, 8),) * 3, "ADAT": ((9, 16),) * 3}
        self.assert_table(rig("four-input interface, loopback before S/PDIF"), table)

    def test_four_optical_pairs_and_nothing_else(self):
        spans = {
            x: ((8 * i + 1, 8 * i + 8), (4 * i + 1, 4 * i + 4), (2 * i + 1, 2 * i + 2)) for i, x in enumerate("ABCD")
        }
        table = {f"ADAT {x}": s for x, s in spans.items()}
        self.assert_table(rig("optical interface, four pairs, no analogue sockets"), table)

    def test_second_interface_starts_after_the_last_driver_channel(self):
        studio = rig("two-preamp interface, optical in only", INTERFACE)
        # 2 inputs + 2 loopback + 8 ADAT = 12, so the second begins at 13 and its ADAT at 13 + 14.
        self.assertEqual(blocks(studio, "U2")["Analogue"], (13, 20))
        self.assertEqual(blocks(studio, "U2")["ADAT"], (27, 34))
        swapped = number_at(studio, "U2", 1)
        self.assertEqual(blocks(swapped, "U2")["ADAT"], (15, 22))
        self.assertEqual(blocks(swapped, "U1")["Input"], (23, 24))

    def test_numbers_are_one_to_n_without_a_hole_and_labels_count_within_their_block(self):
        for rate in RATES_HZ:
            numbering = Survey(set_rate(rig(INTERFACE, EXPANDER), rate)).numbering
            for channels in (numbering.inputs, numbering.outputs):
                self.assertEqual([d.number for d in channels], list(range(1, len(channels) + 1)))
        inputs = Survey(rig(INTERFACE)).numbering.inputs
        self.assertEqual([inputs[i].label for i in (0, 8, 14, 21)], ["Analogue 1", "S/PDIF 1", "ADAT 1", "ADAT 8"])

    def test_working_adds_up(self):
        studio = rig("two-preamp interface, optical in only", INTERFACE)
        survey = Survey(studio)
        driver = next(d for d in survey.numbering.inputs if d.unit == "U2" and d.label == "ADAT 3")
        lines = number_working(driver, survey.views["U2"], studio.units, "48 kHz")
        self.assertEqual(lines[0].split(": ")[1], "12 channels")
        self.assertIn("Analogue 8 + S/PDIF 2 + Loopback 4 = 14", lines[1])
        self.assertIn("27–34", lines[2])
        self.assertIn("27 + 3 − 1 = 29", lines[3])
