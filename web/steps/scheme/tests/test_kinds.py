"""Every kind of system on the page: chosen at a touch, drawn, and its effect shown."""

import numpy as np

from heat.design.schemes import SCHEMES
from web.editor.design_page import DesignPage
from web.editor.edits import ValueEdit, apply_edit
from web.editor.tests.helpers import DesignPageCase, figure
from web.presentation.drawing import drawing
from web.presentation.kinds import KINDS
from web.presentation.plumbing import on_slope
from web.presentation.vessels import vessel_of
from web.steps.scheme.alternatives import alternatives
from web.steps.scheme.panels import panel, parts_of
from web.steps.scheme.swaps import swaps

HTMX = {"HX-Request": "true"}


class EveryKind(DesignPageCase):
    def choose(self, kind):
        return self.client.post(self.url("choose"), {"preset": f"kind {kind}", "screen": "scheme"}, headers=HTMX)

    def test_each_is_chosen_drawn_and_undone(self):
        self.assertEqual(set(KINDS), set(SCHEMES))
        before = self.document()
        for kind in KINDS:
            if kind == "pumped_coil":
                continue
            with self.subTest(kind=kind):
                answer = self.choose(kind)
                self.assertContains(answer, "books close")
                self.assertNotContains(answer, "Not done")
                self.assertNotRegex(answer.content.decode(), r'(width|height)="-|[=, L]nan')
                page = self.page()
                d = drawing(page)
                self.assertEqual(d["kind"], kind)
                self.assertEqual(d["has_pump"], SCHEMES[kind].driven_by == "pump")
                self.assertGreater(len(d["shapes"]), 15)
                for part in parts_of(page):
                    self.assertEqual(self.client.get(self.url(f"scheme?part={part}")).status_code, 200)
                self.client.post(self.url("undo"), {"screen": "scheme"}, headers=HTMX)
                self.assertEqual(self.document(), before)
        self.assertEqual(self.choose("perpetual").status_code, 422)

    def test_kinds_follow_one_another(self):
        for kind in (
            "thermosiphon_open",
            "drainback",
            "pumped_coil",
            "batch_tank",
            "thermosiphon_sealed",
            "pumped_plate",
        ):
            self.assertEqual(self.choose(kind).status_code, 200, kind)
        system = self.document()["system"]
        self.assertEqual(
            (system["kind"], system["loop"]["glycol_percent"], system["loop"]["check_valve"]),
            ("pumped_plate", 40, True),
        )

    def test_the_account_says_what_moved_the_water(self):
        pumped = "of power in"
        weight = "The water moved by its own weight for"
        self.assertContains(self.client.get(self.url("scheme")), pumped)
        answer = self.choose("thermosiphon_open")
        self.assertContains(answer, weight)
        self.assertNotContains(answer, pumped)
        self.assertNotContains(self.choose("batch_tank"), weight)

    def test_collectors_keep_their_tilt_and_weight_its_order(self):
        self.choose("thermosiphon_open")
        for tilt in ("20", "45", "70"):
            design = self.page(plane__tilt_deg=tilt).year.book.design
            (x, y), (far_x, far_y) = on_slope(design, 0), on_slope(design, 100)
            self.assertAlmostEqual(np.degrees(np.arctan2(y - far_y, far_x - x)), float(tilt), delta=0.3)
        vessel = vessel_of(self.page(plane__tilt_deg="38").year.book.design)
        self.assertLess(vessel.y + vessel.h, on_slope(design, 100)[1] + 60)

    def test_there_and_back_brings_what_was_typed(self):
        before = self.page(
            system__loop__glycol_percent="33",
            system__loop__in_share="0.8",
            system__loop__supply_pipe__length_m="22",
            system__store__volume_l="450",
        ).document
        for there in ("drainback", "thermosiphon_open", "batch_tank", "pumped_plate"):
            self.choose(there)
            self.assertEqual(self.document()["system"]["kind"], there)
        self.page(system__store__volume_l="500")
        self.choose("pumped_coil")
        now = self.document()["system"]
        self.assertEqual(now["loop"], before["system"]["loop"])
        self.assertEqual(now["store"]["volume_l"], 500)  # typed since: it stays
        self.choose("drainback")
        self.client.post(self.url("undo"), {"screen": "scheme"}, headers=HTMX)
        self.assertEqual(self.document()["system"], now)

    def test_what_may_be_added_fits_the_kind(self):
        offered = lambda: {row["choose"].removeprefix("switch ") for row in alternatives(self.page(), "add")}
        self.assertTrue({"stove", "boiler", "dump", "draw coil"} <= offered())
        self.choose("tube_bank")
        self.assertFalse({"stove", "boiler", "element", "dump", "check valve"} & offered())
        self.assertTrue({"second store", "mirror"} <= offered())
        self.client.post(self.url("choose"), {"preset": "switch second store", "screen": "scheme"}, headers=HTMX)
        self.assertTrue({"stove", "second store"} <= offered())

    def test_kinds_that_would_freeze_here_state_so(self):
        self.client.post(self.url("weather/use"), {"climate": "merrow_hills"})
        rows = {row["choose"].removeprefix("kind "): row for row in swaps(self.page())}
        for kind in ("direct", "bag", "tube_bank", "thermosiphon_open"):
            self.assertIn("would freeze", rows[kind].get("why", ""))
        self.assertNotIn("why", rows["drainback"])

    def test_swaps_report_what_each_kind_would_bring(self):
        rows = {row["choose"].removeprefix("kind "): row for row in swaps(self.page())}
        self.assertEqual(set(rows), set(KINDS) - {"pumped_coil"})
        self.choose("pumped_plate")
        fraction = figure(self.page().fraction_text)
        self.client.post(self.url("undo"), {"screen": "scheme"}, headers=HTMX)
        self.assertAlmostEqual(
            figure(self.page().fraction_text) + figure(rows["pumped_plate"]["points"]), fraction, delta=0.11
        )
        self.assertEqual(rows["pool_direct"]["points"], "uses differ")
        self.assertContains(self.client.get(self.url("steps?part=kind")), "plate exchanger")


class Plumbing(DesignPageCase):
    def words(self, **values):
        return {w.text for w in drawing(self.page(**values))["words"]}

    def make(self, kind):
        self.client.post(self.url("choose"), {"preset": f"kind {kind}", "screen": "scheme"}, headers=HTMX)

    def test_safety_parts_are_where_they_belong(self):
        self.assertTrue({"one-way", "vessel, relief"} <= self.words())
        self.assertNotIn("one-way", self.words(system__loop__check_valve="0"))
        self.make("drainback")
        self.assertTrue({"runs back", "when it stops"} <= self.words())
        self.assertNotIn("vessel, relief", self.words())
        self.make("seasonal_preheat")
        self.assertIn("drains", self.words())
        self.make("thermosiphon_open")
        self.assertTrue({"open vent", "rises"} <= self.words())

    def test_heaters_rooms_and_sinks_are_drawn_when_fitted(self):
        before = self.words()
        self.assertFalse({"boiler", "stove", "rooms", "dump"} & before)
        after = self.words(
            system__backup__boiler__fitted="1",
            system__backup__stove__fitted="1",
            system__store__open_vented="1",
            demand__heating__fitted="1",
            system__second_store__fitted="1",
            system__dump__fitted="1",
        )
        self.assertTrue({"boiler", "stove", "rooms", "dump"} <= after)

    def test_a_second_store_is_behind_every_kind_that_has_taps_and_the_stove_beside_it(self):
        for kind in ("bag", "batch_tank", "thermosiphon_open", "thermosiphon_sealed"):
            with self.subTest(kind=kind):
                self.make(kind)
                words = self.words(
                    system__second_store__fitted="1",
                    system__second_store__count="2",
                    system__backup__stove__fitted="1",
                    plane__mirror__fitted="1",
                )
                self.assertTrue({"2 ×", "stove", "mirror"} <= words)
                self.assertContains(self.client.get(self.url("scheme?part=second_store")), "Preheat: water passes both")
                self.assertContains(self.client.get(self.url("scheme?part=stove")), "licensed trade")

    def test_own_wood_is_beside_the_sun_and_is_named_in_the_fraction(self):
        page = self.client.get(self.url("scheme"))
        self.assertNotContains(page, "own wood")
        self.page(system__backup__stove__fitted="1")
        page = self.client.get(self.url("scheme"))
        self.assertRegex(page.content.decode(), r"own wood \d+\.\d %")
        self.assertRegex(page.content.decode(), r"Own<br>wood")
        books = self.client.get(self.url("scheme?view=accounts"))
        self.assertContains(books, "Stove = store + room")
        self.page(system__backup__stove__counts_as_bought="1")
        page = self.client.get(self.url("scheme"))
        self.assertNotContains(page, "own wood")

    def test_a_pumps_curve_is_typed_in_the_readers_units_and_rules_the_flow(self):
        page = self.page(system__loop__drive__curve="0 4, 600 2.5, 1200 0")
        typed = page.document["system"]["loop"]["drive"]["curve"]
        self.assertEqual(typed[1], {"flow_kg_h": 600.0, "head_m": 2.5})
        self.assertEqual(page.field("system.loop.drive.curve").text, "0 4, 600 2.5, 1200 0")
        loop_panel = panel(page, "loop")
        self.assertNotIn("system.loop.flow_kg_h", [field.path for field in loop_panel["fields"]])
        self.assertRegex(loop_panel["taken"][-1], r"the curve meets the loop at [\d\u202f]+ kg/h")
        self.user.units = "us"
        self.user.save()
        page = self.page(system__loop__drive__curve="0 13, 2.5 8, 5 0")
        second = page.document["system"]["loop"]["drive"]["curve"][1]
        self.assertAlmostEqual(second["flow_kg_h"], 2.5 * 60 * 3.785411784, places=6)
        self.assertAlmostEqual(second["head_m"], 8 * 0.3048, places=6)
        self.assertEqual(page.field("system.loop.drive.curve").text, "0 13, 2.5 8, 5 0")
        self.assertIn("gal/min", panel(page, "loop")["taken"][-1])
        refused = apply_edit(DesignPage(self.fresh(), self.user), ValueEdit("system.loop.drive.curve", "0 8, 4 9"))
        self.assertIn("the head must fall", str(refused.refusals))

    def test_temperatures_follow_the_readers_units(self):
        celsius = {w for w in self.words() if w.endswith("°")}
        self.user.units = "us"
        self.user.save()
        fahrenheit = {w for w in self.words() if w.endswith("°")}
        self.assertEqual(len(celsius), len(fahrenheit))
        self.assertAlmostEqual(
            max(figure(w[:-1]) for w in celsius) * 1.8 + 32, max(figure(w[:-1]) for w in fahrenheit), delta=0.2
        )
