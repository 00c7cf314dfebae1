"""What the pages say: drawing, account, tally, explanations, cautions, panels."""

import re

import numpy as np

from heat.ledger.year_book import BOUGHT, SUN
from web.editor.tests.helpers import DesignPageCase, figure, observed
from web.presentation.account import account, signed
from web.presentation.cautions import cautions
from web.presentation.drawing import drawing
from web.presentation.moment import Moment, default_day, moment
from web.presentation.picture import SCALE, colour
from web.presentation.plumbing import on_slope
from web.presentation.tally import explanations, tally
from web.presentation.vessels import vessel_of
from web.ui.calendar import date_of
from web.ui.png import TINTS, tinted


class Drawing(DesignPageCase):
    def test_temperature_scale_is_ordered_and_bounded(self):
        self.assertEqual((colour(-40), colour(10), colour(89.9), colour(300)), (SCALE[0], SCALE[0], SCALE[8], SCALE[8]))
        light = [sum(int(c[i : i + 2], 16) for i in (1, 3, 5)) for c in SCALE]
        self.assertEqual(light, sorted(light))

    def test_dates(self):
        self.assertEqual([date_of(d) for d in (0, 31, 58, 59, 364)], ["1 Jan", "1 Feb", "28 Feb", "1 Mar", "31 Dec"])
        self.assertEqual(Moment(0, 0).shifted(-1), Moment(364, 23))
        self.assertEqual(Moment(364, 23).shifted(25), Moment(1, 0))

    def test_a_bright_day_is_drawn_unless_one_is_chosen(self):
        page = self.page()
        self.assertTrue(59 <= default_day(page) <= 150)
        self.assertEqual(moment(observed(page, "day=500&hour=99")), Moment(364, 23))

    def test_collectors_lie_at_their_true_tilt(self):
        for tilt in ("0", "30", "75", "90"):
            design = self.page(plane__tilt_deg=tilt).year.book.design
            (x, y), (far_x, far_y) = on_slope(design, 0), on_slope(design, 120)
            self.assertAlmostEqual(np.degrees(np.arctan2(y - far_y, far_x - x)), float(tilt), delta=0.3)

    def test_many_collectors_are_counted_not_crowded(self):
        d = drawing(self.page(system__collector__count="40"))
        self.assertEqual(sum(s["fill"] == "url(#hatch)" for s in d["shapes"]), 6)
        self.assertIn("+ 34 more", [w.text for w in d["words"]])

    def test_layers_coil_and_sensors_are_at_their_height(self):
        page = self.page(system__coil__top_share="0.6", system__control__sensor_share="0.3")
        d, vessel = drawing(page), vessel_of(page.year.book.design)
        drawn = " ".join(s["d"] for s in d["shapes"])
        self.assertIn(f"M{vessel.x - 4:.1f},{vessel.level(0.6):.1f} H", drawn)
        self.assertIn(f"M{vessel.x + 14:.1f},{vessel.level(0.3):.1f}a3", drawn)
        self.assertAlmostEqual(vessel.level(0.6), vessel.y + 0.4 * vessel.h, delta=0.2)
        bands = [s for s in d["shapes"] if s["fill"] in SCALE and s["width"] == 0]
        self.assertEqual(len(bands), 20)
        self.assertTrue(all(vessel.y <= m["y"] <= vessel.y + vessel.h for m in d["marks"]))

    def test_numbers_are_those_of_the_hour(self):
        page = self.page("day=100&hour=12")
        d, book = drawing(page), page.year.book
        self.assertEqual(figure(d["marks"][-1]["text"]), round(float(book.profile[2412, 1]), 1))
        sun = book.books[2412, list(SUN)].sum() / book.design.system.collector.total_area_m2
        self.assertEqual(figure(d["sun"].split(" ")[0]), round(float(sun)))


class Account(DesignPageCase):
    def test_months_add_up_and_bars_share_one_scale(self):
        page = self.page()
        a = account(page)
        for name in ("sun", "store", "lost", "delivered", "bought"):
            months = sum(figure(row[name]["text"]) for _m, row in a["rows"])
            self.assertAlmostEqual(months, figure(a["total"][name]), delta=7)
            for _month, row in a["rows"]:
                self.assertLessEqual(row[name]["bar"], 54.0)
        self.assertEqual(max(row["sun"]["bar"] for _m, row in a["rows"]), 54.0)
        self.assertTrue(a["closes"])
        self.assertLess(float(a["residual"]), 1e-6)

    def test_the_printed_closing_line_closes(self):
        total = account(self.page())["total"]
        left = figure(total["sun"]) + figure(total["bought"])
        right = figure(total["delivered"]) + figure(total["lost"]) + figure(total["carried"])
        self.assertAlmostEqual(left, right, delta=3)

    def test_lost_heat_is_all_accounted_for(self):
        a = account(self.page())
        parts = [figure(p["text"]) for p in a["lost_parts"]]
        self.assertAlmostEqual(sum(parts), figure(a["total"]["lost"]), delta=3)
        self.assertAlmostEqual(sum(p["w"] for p in a["lost_parts"]), 524, delta=0.5)

    def test_signs(self):
        page = self.page()
        self.assertEqual([signed(page, v) for v in (3.2, -3.2, 0.1, -0.1)], ["+3", "−3", "0", "0"])

    def test_missing_heat_is_displayed(self):
        page = self.client.get(self.url("scheme"))
        self.assertNotContains(page, "unmet (")
        self.edit("system.backup.tankless.fitted", "0")
        page = self.client.get(self.url("scheme"))
        self.assertContains(page, "unmet (")
        self.assertContains(page, "no tankless heater")


class Tally(DesignPageCase):
    def test_unchanged_design_states_as_saved(self):
        for cell in tally(self.page()):
            self.assertEqual(cell["change"]["text"], "as saved")

    def test_changes_state_better_or_worse_in_words(self):
        cells = {c["key"]: c for c in tally(self.page(system__collector__count="3"))}
        self.assertEqual(cells["fraction"]["change"]["word"], "better")
        self.assertEqual(cells["yield"]["change"]["word"], "worse")
        self.assertEqual((cells["bought"]["change"]["arrow"], cells["bought"]["change"]["word"]), ("▼", "better"))
        self.assertTrue(cells["bought"]["red"])

    def test_difference_is_that_of_the_two_years(self):
        page = self.page(system__store__volume_l="200")
        cell = next(c for c in tally(page) if c["key"] == "bought")
        now, base = page.year.book.total(*BOUGHT), page.base.bought_kwh
        self.assertEqual(figure(cell["change"]["text"]), round(now - base))


class Explanations(DesignPageCase):
    def test_every_figure_of_the_tally_can_be_requested(self):
        page = self.page()
        why = explanations(page)
        self.assertEqual(set(why), {c["key"] for c in tally(page)})
        for note in why.values():
            self.assertTrue(note["title"])
            self.assertTrue(note["text"].endswith("."))
            self.assertTrue(all(len(row) == 3 for row in note["rows"]))

    def test_three_fractions_and_the_second_opinion(self):
        page = self.page()
        rows = {r[0][:3]: float(r[2].split(" ")[0]) for r in explanations(page)["fraction"]["rows"]}
        f = page.year.book.fractions
        self.assertEqual(rows["(a)"], round(100 * f.at_tap, 1))
        self.assertEqual(rows["(b)"], round(100 * f.of_supply, 1))
        self.assertEqual(rows["(c)"], round(100 * f.fuel_saved, 1))
        self.assertTrue(40 < rows["Mon"] < 100)

    def test_a_fraction_below_zero_is_explained_where_it_is(self):
        page = self.page(
            demand__people="0.5",
            system__backup__stove__fitted="1",
            system__backup__stove__counts_as_bought="1",
            system__backup__stove__power_kw="12",
            system__store__loss_w_k="12",
        )
        self.assertLess(page.year.book.fractions.at_tap, 0.0)
        self.assertEqual(tally(page)[0]["beside"], "below zero")
        self.assertIn("below zero", explanations(page)["fraction"]["text"])

    def test_bought_heat_is_always_in_parentheses(self):
        for row in explanations(self.page())["bought"]["rows"][:3]:
            self.assertRegex(row[2], r"^\(.*\)$")


class Cautions(DesignPageCase):
    def found(self, **values):
        return " ".join(f"{c.name}: {c.text}" for c in cautions(self.page(**values)))

    def test_scald_without_tempering_valve(self):
        self.assertNotIn("Scald", self.found())
        self.assertIn("no tempering valve", self.found(system__tempering_valve="0"))

    def test_frost_of_plain_water(self):
        self.assertNotIn("Frost", self.found())
        self.assertIn("this fluid freezes at 0 °C", self.found(system__loop__glycol_percent="0"))

    def test_stagnation_with_too_much_glass(self):
        self.assertRegex(self.found(system__collector__count="6"), r"Stagnation: \d+ h .* collectors reach")

    def test_the_page_defers_to_the_local_code(self):
        self.assertContains(self.client.get(self.url("scheme")), "Check the local code")


class Carpet(DesignPageCase):
    def test_picture_has_a_pixel_an_hour(self):
        address = tinted(np.linspace(0, 1200, 8760).reshape(24, 365), 1000.0)
        self.assertRegex(address, r"^data:image/png;base64,[A-Za-z0-9+/=]+$")
        self.assertEqual(len(set(TINTS)), len(TINTS))
        self.assertTrue(
            re.search(r'width="365"\s+height="24"', self.client.get(self.url("site?view=weather")).content.decode())
        )
