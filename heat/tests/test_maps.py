"""Maps: lattices, lines, areas and best places against surfaces that are known, and against a finer scan of years."""

from unittest import TestCase

import numpy as np

from heat.design.changing import varied
from heat.studies.maps import Axis, beyond, coarse, contours, field, lattice, levels, peak, reach
from heat.studies.outcome import evaluate_designs
from heat.tests.samples import case_design, tmy3

TILT = Axis(0.0, 90.0, 1.0, (("plane.tilt_deg", 1.0),), fixed=(("plane.on", ""),))
BEARING = Axis(90.0, 270.0, 1.0, (("plane.azimuth_deg", 1.0),), turn=360.0, fixed=(("plane.on", ""),))


def hill(places):
    """A round hill with its top of 60 at bearing 170, tilt 40."""
    return 60.0 - ((places[:, 0] - 170.0) / 30.0) ** 2 - ((places[:, 1] - 40.0) / 15.0) ** 2


class Lattices(TestCase):
    def test_every_place_once_and_the_coarse_ones_first(self):
        places, first = lattice(BEARING, TILT)
        self.assertEqual((len(places), first), (19 * 13, 7 * 5))
        self.assertEqual(len({tuple(p) for p in places}), len(places))
        self.assertEqual(sorted(set(places[:first, 0])), list(np.linspace(90, 270, 7)))
        self.assertEqual(sorted(set(places[:first, 1])), list(np.linspace(0, 90, 5)))

    def test_whole_numbers_are_not_simulated_twice(self):
        people = Axis(1.0, 5.0, 1.0, (("demand.people", 1.0),), whole=True)
        places, first = lattice(people, TILT)
        self.assertEqual(sorted(set(places[:, 0])), [1, 2, 3, 4, 5])
        self.assertEqual(len(places), 5 * 13)
        self.assertEqual(sorted(set(places[:first, 0])), [1, 4, 5])
        self.assertIsInstance(people.values(3.0)["demand.people"], int)
        self.assertEqual(coarse(1), [0])

    def test_an_axis_puts_a_design_where_it_states(self):
        area = Axis(2.0, 12.0, 2.3, (("system.collector.area_m2", 0.5),))
        self.assertEqual(area.values(9.2), {"system.collector.area_m2": 4.6})
        south = Axis(270.0, 450.0, 1.0, (("plane.azimuth_deg", 1.0),), turn=360.0)
        self.assertEqual(south.values(380.0), {"plane.azimuth_deg": 20.0})
        self.assertAlmostEqual(area.pinned(5.0), 4.6)
        self.assertEqual(TILT.pinned(-8.0), 0.0)


class Fields(TestCase):
    def setUp(self):
        self.places, self.first = lattice(BEARING, TILT)
        self.whole = field(self.places, hill(self.places), len(self.places))

    def test_values_are_where_they_were_simulated(self):
        rough = field(self.places, hill(self.places), self.first)
        self.assertEqual(rough.values.shape, (5, 7))
        at = hill(np.array([(self.whole.xs[4], self.whole.ys[7])]))[0]
        self.assertEqual(self.whole.values[7, 4], at)

    def test_the_best_place_lies_between_the_places_simulated(self):
        found = peak(self.whole)
        self.assertAlmostEqual(found.x, 170.0, delta=1.0)
        self.assertAlmostEqual(found.y, 40.0, delta=0.5)
        self.assertAlmostEqual(found.value, 60.0, delta=0.01)
        low = peak(field(self.places, -hill(self.places), len(self.places)), most=False)
        self.assertEqual((low.x, low.y), (found.x, found.y))

    def test_lines_run_where_the_value_is(self):
        for level, lines in contours(self.whole, levels(self.whole.values)):
            points = np.array([point for line in lines for point in line])
            np.testing.assert_allclose(hill(points), level, atol=0.35)

    def test_the_area_within_one_of_the_best_is_the_ellipse(self):
        (area,) = beyond(self.whole, 59.0)
        x, y = np.array(area[0]).T
        ring = 0.5 * abs(np.dot(x, np.roll(y, 1)) - np.dot(y, np.roll(x, 1)))
        self.assertAlmostEqual(ring, np.pi * 30.0 * 15.0, delta=0.08 * ring)
        low_x, high_x, low_y, high_y = reach(self.whole, 59.0)
        np.testing.assert_allclose((low_x, high_x, low_y, high_y), (140.0, 200.0, 25.0, 55.0), atol=2.0)
        self.assertIsNone(reach(self.whole, 61.0))

    def test_levels_are_round_and_few(self):
        self.assertEqual(levels(np.array([20.3, 61.7])), [25.0, 30.0, 35.0, 40.0, 45.0, 50.0, 55.0, 60.0])
        self.assertEqual(levels(np.array([5.0, 5.0])), [])
        self.assertEqual(levels(np.array([np.nan])), [])

    def test_what_cannot_be_is_a_hole_and_the_best_is_beside_it(self):
        values = hill(self.places)
        values[self.places[:, 0] > 160.0] = np.nan
        holed = field(self.places, values, len(self.places))
        found = peak(holed)
        self.assertEqual(found.x, 160.0)
        self.assertTrue(contours(holed, [55.0])[0][1])
        self.assertIsNone(peak(field(self.places, np.full(len(self.places), np.nan), len(self.places))))


class Years(TestCase):
    def test_the_best_tilt_and_bearing_are_those_of_a_fine_scan(self):
        document, weather = case_design().model_dump(mode="json"), tmy3()

        def fractions(places):
            designs = [varied(document, BEARING.values(x) | TILT.values(y)) for x, y in places]
            return 100.0 * evaluate_designs(designs, weather)["fraction"]

        places, _first = lattice(BEARING, TILT, (13, 10))
        found = peak(field(places, fractions(places), len(places)))
        around = [(x, y) for x in found.x + np.arange(-16, 17, 4) for y in found.y + np.arange(-12, 13, 3)]
        scanned = fractions(around)
        self.assertAlmostEqual(found.value, scanned.max(), delta=0.15)
        near = np.array(around)[scanned > scanned.max() - 0.1]  # a flat top: any of these is the best for practice
        self.assertTrue(near[:, 0].min() - 4 <= found.x <= near[:, 0].max() + 4)
        self.assertTrue(near[:, 1].min() - 3 <= found.y <= near[:, 1].max() + 3)
