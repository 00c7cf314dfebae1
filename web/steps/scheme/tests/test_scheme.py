"""The scheme's page: heights, alternatives, ways out, a guided beginning, every account, cautions."""

import json
from urllib.parse import urlencode

from heat.ledger import accounts as acc
from heat.ledger.year_book import BALANCES
from web.editor.design_page import DesignPage
from web.editor.edits import ValueEdit, apply_edit
from web.editor.tests.helpers import DesignPageCase, figure
from web.presentation.accounts import accounts_csv
from web.presentation.cautions import cautions
from web.presentation.drawing import drawing
from web.projects.models import Design
from web.steps.scheme.accounts_table import BALANCE_WORDS, SECTIONS, accounts_view
from web.steps.scheme.alternatives import SWITCHES, alternatives
from web.steps.scheme.start import answers, start_view

HTMX = {"HX-Request": "true"}


class Choosing(DesignPageCase):
    def choose(self, preset, status=200, **more):
        answer = self.client.post(self.url("choose"), {"preset": preset, "screen": "scheme", **more}, headers=HTMX)
        self.assertEqual(answer.status_code, status, preset)
        return answer


class Heights(Choosing):
    def test_everything_that_sits_at_a_height_can_be_moved(self):
        self.choose("switch element")
        self.choose("switch second store")
        points = {p["path"]: p for p in drawing(self.page())["points"]}
        self.assertTrue(
            {"system.coil.top_share", "system.control.sensor_share", "system.backup.element.height_share"}
            <= set(points)
        )
        coil, element = points["system.coil.top_share"], points["system.backup.element.height_share"]
        self.assertGreater(element["x"], coil["x"] + 80)  # heaters sit in the store that is kept hot
        before = coil["y"]
        moved = {p["path"]: p for p in drawing(self.page(system__coil__top_share="0.7"))["points"]}
        self.assertLess(moved["system.coil.top_share"]["y"], before)

    def test_the_drawing_is_reported_in_words_and_the_readers_units(self):
        text = drawing(self.page())["described"]
        for words in ("2 collectors, 4.6 m²", "300 L", "sensor at 0 %", "coil, upper end at 35 %", "tankless heater"):
            self.assertIn(words, text)
        self.user.units = "us"
        self.user.save()
        self.assertIn("49.5 ft²", drawing(self.page())["described"])
        self.choose("kind bag")
        self.assertIn("Flat water bag", drawing(self.page())["described"])

    def test_each_kind_has_the_points_of_its_exchange(self):
        for kind, path in (
            ("pumped_plate", "system.loop.in_share"),
            ("thermosiphon_sealed", "system.jacket.top_share"),
            ("thermosiphon_open", "system.draw_coil.top_share"),
            ("combi", "demand.heating.out_share"),
        ):
            self.choose(f"kind {kind}")
            self.assertIn(path, [p["path"] for p in drawing(self.page())["points"]])
        self.choose("kind batch_tank")
        self.assertEqual(drawing(self.page())["points"], [])


class Alternatives(Choosing):
    def test_each_row_reports_what_choosing_it_brings(self):
        rows = {r["choose"]: r for r in alternatives(self.page(), "insulation")}
        self.assertEqual(rows, {})
        rows = {r["choose"]: r for r in alternatives(self.page(), "coil")}
        self.assertIn("kind pumped_plate", rows)
        before = figure(self.page().fraction_text)
        self.choose("entry coil long_3")
        points = figure(rows["entry coil long_3"]["points"])
        self.assertAlmostEqual(figure(self.page().fraction_text) - before, points, delta=0.11)
        self.assertEqual(
            {r["choose"]: r["points"] for r in alternatives(self.page(), "coil")}["entry coil long_3"], "as now"
        )

    def test_collectors_keep_the_area_nearly(self):
        rows = {r["choose"]: r["words"] for r in alternatives(self.page(system__collector__count="6"), "collector")}
        self.assertIn("5 × 2.8 m²", rows["entry collector tube_heatpipe"].replace("\u00a0", " "))
        self.assertNotIn("entry collector batch", rows)
        self.assertLessEqual(len(rows), 12)

    def test_parts_are_added_and_left_out(self):
        for name, (path, _words) in SWITCHES.items():
            if name == "pasteurisation":
                self.choose("switch element")
            with self.subTest(name=name):
                before = self.document()
                answer = self.client.post(
                    self.url("choose"), {"preset": f"switch {name}", "screen": "scheme"}, headers=HTMX
                )
                if answer.status_code == 200:
                    self.client.post(self.url("undo"), {"screen": "scheme"}, headers=HTMX)
                else:
                    self.assertContains(answer, "Not done", status_code=422)
                self.assertEqual(self.document(), before, path)
        self.assertContains(self.client.get(self.url("steps?part=add")), "heat dump for summer")
        self.assertContains(self.client.get(self.url("steps?part=pipes&instead=1")), "Mineral wool shell")

    def test_unknown_names_change_nothing(self):
        for name in ("entry", "entry gold x", "entry coil own_1", "switch sail", "entry coil nothing"):
            self.choose(name, 422)


class WaysOut(Choosing):
    def test_a_contradiction_is_reported_on_its_part_and_mended_at_a_touch(self):
        self.choose("kind drainback")
        self.client.get(self.url("scheme?part=loop"))
        answer = self.edit("system.loop.glycol_percent", "30")
        self.assertContains(answer, "a closed loop with a coil", status_code=422)
        self.assertContains(answer, "the last good year", status_code=422)
        page = apply_edit(DesignPage(self.fresh(), self.user), ValueEdit("system.loop.glycol_percent", "30"))
        (_words, changes), *_rest = page.refusals["system.loop.glycol_percent"].ways_out
        self.choose("", changes=changes)
        document = self.document()
        self.assertEqual(
            (document["system"]["kind"], document["system"]["loop"]["glycol_percent"]), ("pumped_coil", 30)
        )
        self.client.post(self.url("undo"), {"screen": "scheme"}, headers=HTMX)
        self.assertEqual(self.document()["system"]["kind"], "drainback")

    def test_changes_handed_back_are_checked_like_any_other(self):
        before = self.document()
        for bad in (
            "",
            "[]",
            "{",
            "{}",
            '{"system.nothing": 1}',
            '{"system.store.volume_l": NaN}',
            '{"plane.on": "a\\u0000"}',
            '{"weather": 999999}',
            '{"system.store.volume_l": 1e9}',
            "9" * 50_000,
        ):
            self.choose("", 422, changes=bad)
        self.assertEqual(self.document(), before)


class Beginning(Choosing):
    def letters(self):
        return [design.letter for design in self.project.designs.filter(archived=False)]

    def test_proposals_side_by_side_and_the_guidelines(self):
        page = start_view(self.page())
        self.assertTrue(2 <= len(page["proposals"]) <= 3)
        self.assertEqual([g["title"] for g in page["guidelines"]], ["Tilt", "Azimuth", "Store volume"])
        self.assertTrue(all(any(r["best"] for r in g["rows"]) for g in page["guidelines"]))

    def test_one_click_opens_a_design_whose_year_is_the_proposed(self):
        query = {"people": "6", "hot_water": "1", "backup": "element", "care": "least", "tilt": "35", "azimuth": "180"}
        page = start_view(self.page(urlencode(query)))
        self.assertTrue(page["changes_survey"])
        self.client.post(self.url("begin"), {"do": "open", "proposal": "1", "screen": "scheme", **query})
        fresh = Design.objects.get(project=self.project, letter="B")
        design_page = DesignPage(fresh, self.user)
        self.assertEqual(f"{design_page.fraction_text} %", page["proposals"][1]["fraction"])
        self.assertIn("First estimate", fresh.note)
        self.assertEqual((design_page.document["demand"]["people"], design_page.document["plane"]["tilt_deg"]), (6, 35))
        self.client.post(f"/projects/{self.project.pk}/B/undo", {"screen": "scheme"}, headers=HTMX)
        self.assertEqual(self.document()["demand"]["people"], 4)

    def test_what_heats_the_rooms_and_how_long_the_pipe_is(self):
        asks = "scheme?view=start&people=4&hot_water=1&rooms=1&emitters=floor&pipe=20&floors=2"
        page = self.client.get(self.url(asks))
        self.assertContains(page, "assumed until it is typed")
        self.assertContains(page, '<option value="floor" selected>')
        made = page.context["st"]["proposals"]
        self.assertTrue(made)
        self.assertContains(self.client.get(self.url(f"{asks}&pipe=long")), "is not a number")
        pool = self.client.get(self.url("scheme?view=start&people=4&pool=1&pool_area=30&pool_otherwise=nothing"))
        self.assertContains(pool, "above the unheated pool")
        self.assertNotContains(pool, '<th scope="row">Solar fraction</th>')

    def test_what_is_wrong_is_beside_its_question(self):
        _wishes, _migrated, wrong = answers(
            self.page(), {"people": "many", "room": "-3", "tilt": "6:12", "azimuth": "400"}
        )
        self.assertEqual(set(wrong), {"people", "room", "azimuth", "uses"})
        self.assertContains(self.client.get(self.url("scheme?view=start&people=many&hot_water=1")), "is not a number")
        for tail in (
            "of=9",
            "of=²",
            "people=6&pool=1",
            "people=2&rooms=1&hot_water=1&care=tinker",
            "tilt=&people=",
            "plane=P9&people=3&hot_water=1",
        ):
            self.assertEqual(self.client.get(self.url(f"scheme?view=start&{tail}")).status_code, 200, tail)

    def test_a_blank_scheme_and_tabs_in_another_order(self):
        self.client.post(self.url("begin"), {"do": "blank", "screen": "scheme"})
        self.assertEqual(self.letters(), ["A", "B"])
        self.client.post(f"/projects/{self.project.pk}/B/designs", {"do": "left", "screen": "scheme"})
        self.assertEqual(self.letters(), ["B", "A"])
        self.client.post(f"/projects/{self.project.pk}/B/designs", {"do": "left", "screen": "scheme"})
        self.client.post(f"/projects/{self.project.pk}/B/designs", {"do": "right", "screen": "scheme"})
        self.assertEqual(self.letters(), ["A", "B"])

    def test_a_new_project_may_begin_guided(self):
        answer = self.client.post("/projects/new", {"name": "Net loft", "place": "", "begin": "guided"}, follow=True)
        self.assertContains(answer, "Begin a design")


class Books(Choosing):
    def test_every_account_is_in_a_section_and_has_words(self):
        for column, name in enumerate(acc.NAMES):
            self.assertEqual(getattr(acc, name.upper()), column)
            self.assertTrue(acc.ACCOUNTS[name])
        placed = {c for _t, columns, beneath in SECTIONS.values() for c in (*columns, *beneath)}
        self.assertEqual(placed, set(range(acc.COLUMNS)))
        self.assertEqual(len(BALANCE_WORDS), len(BALANCES))

    def test_sums_are_the_years(self):
        design_page = self.page()
        page = accounts_view(design_page)
        sections = {s["key"]: s for s in page["sections"]}
        self.assertEqual(sections["bought"]["cells"][-1], f"({design_page.bought_text})")
        for section in page["sections"]:
            if section["key"] in ("sun", "lost"):
                total = sum(figure(line["cells"][-1]) for line in section["lines"])
                self.assertAlmostEqual(total, figure(section["cells"][-1]), delta=4)
        self.assertContains(self.client.get(self.url("scheme?view=accounts")), "What must close")

    def test_the_table_has_full_precision(self):
        page = self.page()
        lines = accounts_csv(page).splitlines()
        self.assertEqual(len(lines), acc.COLUMNS + 1)
        demand = next(line for line in lines if line.startswith("demand,"))
        self.assertAlmostEqual(float(demand.split(",")[-1]), page.year.book.total(acc.DEMAND))
        self.assertEqual(self.client.get(self.url("accounts.csv"))["Content-Type"], "text/csv; charset=utf-8")


class Cautions(Choosing):
    def names(self, **values):
        return {c.name for c in cautions(self.page(**values))}

    def test_check_valve_weight_and_tilt(self):
        self.assertNotIn("No check valve", self.names())
        self.assertIn("No check valve", self.names(system__loop__check_valve="0"))
        self.choose("entry collector tube_heatpipe")
        self.assertNotIn("Tilt", self.names())
        self.assertIn("Tilt", self.names(plane__tilt_deg="10"))
        self.client.post(self.url("rows"), {"path": "site.planes", "preset": "roof", "screen": "site"}, headers=HTMX)
        self.assertNotIn("Weight", self.names())
        self.assertIn("Weight", self.names(site__planes__0__load_kg_m2="15"))

    def test_legionella_by_the_store_that_feeds_the_taps(self):
        self.assertIn("Legionella", self.names())
        self.choose("switch element")
        self.choose("switch pasteurisation")
        self.assertNotIn("Legionella", self.names())

    def test_each_kind_is_warned_of_its_own(self):
        for kind, name in (
            ("drainback", "Frost"),
            ("direct", "Hot pipes"),
            ("thermosiphon_open", "Weight"),
            ("pumped_coil", "Drinking water"),
        ):
            self.choose(f"kind {kind}")
            self.assertIn(name, self.names(), kind)
        for caution in cautions(self.page()):
            if caution.part:
                self.assertEqual(self.client.get(self.url(f"scheme?part={caution.part}")).status_code, 200)

    def test_json_of_a_way_out_reads_back(self):
        self.choose("kind drainback")
        page = apply_edit(DesignPage(self.fresh(), self.user), ValueEdit("system.loop.glycol_percent", "30"))
        for _words, changes in page.refusals["system.loop.glycol_percent"].ways_out:
            self.assertIsInstance(json.loads(changes), dict)
