"""The findings of docs/findings.md, each held against full years made for it alone."""

from django.conf import settings
from django.test import SimpleTestCase

from heat.catalogue import changes, entries
from heat.demand.shapes import SHAPES
from heat.design import parse
from heat.design.changing import varied, with_changes
from heat.ledger.year_book import BOUGHT
from heat.simulation.year import simulate
from heat.studies.following import following
from web.demo.management.commands.load_demo import TERRACE
from web.projects.climates import merrow_coast


class Findings(SimpleTestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.base = parse(TERRACE).model_dump(mode="json")
        cls.text = " ".join((settings.ROOT / "docs" / "findings.md").read_text().split())

    def year(self, values, start=None):
        """Solar fraction (%), bought heat (kWh), hours of stagnation."""
        start = start or self.base
        book = simulate(parse(varied(start, following(start, values))), merrow_coast())
        return 100.0 * book.fractions.at_tap, book.total(*BOUGHT), book.stagnation_hours()

    def collectors(self, key):
        return with_changes(self.base, changes(entries()[key], self.base))

    def holds(self, *words):
        for text in words:
            self.assertIn(text, self.text)

    def test_45_degrees_off_the_equator_cost_tubes_less_than_plates(self):
        lost = {}
        for name, key in (("plates", "flat_selective"), ("tubes", "tube_heatpipe")):
            start = self.collectors(key)
            ahead, east, west = (
                self.year({"plane.on": "", "plane.azimuth_deg": at}, start) for at in (180.0, 135.0, 225.0)
            )
            lost[name] = (ahead[0] - (east[0] + west[0]) / 2, (east[1] + west[1]) / 2 - ahead[1])
        self.assertLess(lost["tubes"][0], lost["plates"][0])
        self.holds(*(f"{name} {points:.1f} points ({kwh:.0f} kWh" for name, (points, kwh) in lost.items()))

    def test_a_bigger_store_hurts_where_collectors_are_few(self):
        bought = lambda count, litres: self.year({"system.collector.count": count, "system.store.volume_l": litres})[1]
        one, two, four = ([bought(n, v) for v in (200.0, 600.0)] for n in (1, 2, 4))
        self.assertGreater(one[1], one[0])
        self.assertLess(four[1], four[0])
        self.holds(
            f"one collector buys {one[1] - one[0]:.0f} kWh more",
            f"two buy {two[0] - two[1]:.0f} kWh less",
            f"four {four[0] - four[1]:.0f} kWh less",
        )

    def test_what_an_evening_household_gains(self):
        shaped = lambda shape, litres: self.year(
            {
                "demand.hour_shape": list(SHAPES[shape]),
                "demand.weekend_shape": None,
                "demand.pattern": "shape",
                "system.store.volume_l": litres,
            }
        )[0]
        gains = [shaped("evening house", v) - shaped("morning house", v) for v in (150.0, 300.0, 600.0)]
        self.assertEqual(gains, sorted(gains, reverse=True))
        self.holds("{:.1f} points with 150 L, {:.1f} with 300 L and {:.1f} with 600 L".format(*gains))

    def test_steep_sheds_the_summer_of_a_large_field(self):
        flat, steep = (self.year({"system.collector.count": 4, "plane.on": "", "plane.tilt_deg": t}) for t in (42, 62))
        two_flat, two_steep = (self.year({"plane.on": "", "plane.tilt_deg": t}) for t in (42, 62))
        self.assertAlmostEqual(flat[0], steep[0], delta=0.3)
        self.holds(
            f"from {flat[2]:.0f} to {steep[2]:.0f} hours",
            f"two collectors it costs {two_flat[0] - two_steep[0]:.1f} point",
        )

    def test_the_wrap_buys_more_than_the_coil(self):
        now = self.year({})[0]
        wrap = self.year({"system.store.loss_w_k": 0.5 * self.base["system"]["store"]["loss_w_k"]})[0] - now
        coil = self.year({"system.coil.ua_w_k": 2 * self.base["system"]["coil"]["ua_w_k"]})[0] - now
        less = now - self.year({"system.coil.ua_w_k": 0.5 * self.base["system"]["coil"]["ua_w_k"]})[0]
        self.holds(
            f"half the loss of the store buys {wrap:.1f} points",
            f"twice the coil {coil:.1f}",
            f"half of it costs {less:.1f}",
        )
