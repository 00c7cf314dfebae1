"""Designs side by side, and what the next step buys: every figure is that of the year behind it."""

import csv
import io
import re
from urllib.parse import urlencode

from openpyxl import load_workbook

from heat.ledger.year_book import BOUGHT
from web.editor.design_page import DesignPage
from web.editor.tests.helpers import DesignPageCase, figure
from web.projects.models import Design
from web.projects.tests.helpers import HTMX
from web.steps.weigh.next_step import steps_view, years_of
from web.steps.weigh.side_by_side import side_view
from web.ui.units import number


class Comparing(DesignPageCase):
    def copy(self, kind=""):
        """Another design of the project, made another kind."""
        self.client.post(self.url("designs"), {"do": "copy", "screen": "scheme"})
        letter = Design.objects.latest("pk").letter
        if kind:
            form = {"preset": f"kind {kind}", "screen": "scheme"}
            self.client.post(f"/projects/{self.project.pk}/{letter}/choose", form, headers=HTMX)
        return letter

    def line(self, page, key):
        return next(line for group in page["groups"] for line in group["lines"] if line["key"] == key)


class SideBySide(Comparing):
    def test_each_column_is_its_designs_year_and_the_best_is_underlined(self):
        for kind in ("pumped_plate", "seasonal_preheat"):
            self.copy(kind)
        page = side_view(self.page())
        self.assertEqual([h["design"].letter for h in page["heads"]], ["A", "B", "C"])
        bought = self.line(page, "bought")["cells"]
        for cell, design in zip(bought, self.project.designs.all(), strict=True):
            book = DesignPage(design, self.user).year.book
            self.assertAlmostEqual(figure(cell["text"].strip("()")), book.total(*BOUGHT), delta=0.5)
        self.assertEqual([c["best"] for c in bought], [False, True, False])
        first, second = (figure(cell["text"].strip("()")) for cell in bought[:2])
        self.assertAlmostEqual(figure(bought[1]["change"]), second - first, delta=1.01)
        self.assertRegex(page["conclusion"], r"^B has least heat .* less than A; what moved most is .*, by")
        self.assertEqual(self.line(page, "sun")["cells"][1]["change"], "same")

    def test_base_order_and_columns_are_the_readers(self):
        for kind in ("pumped_plate", "seasonal_preheat"):
            self.copy(kind)
        page = side_view(self.page("view=side&by=fraction&base=C&without=A"))
        self.assertEqual([h["design"].letter for h in page["heads"]], ["B", "C"])
        self.assertEqual([d.letter for d in page["left_out"]], ["A"])
        self.assertNotIn("change", self.line(page, "fraction")["cells"][1])
        self.assertIn("less than C", page["conclusion"])
        folded = side_view(self.page("fold=Heat,Wear"))["groups"]
        self.assertEqual([g["folded"] for g in folded][:3], [True, False, True])
        for odd in ("base=Z", "by=beauty", "without=A,B,C", "fold=%00", "base=&by=&without=,,"):
            self.assertEqual(self.client.get(self.url(f"weigh?{odd}")).status_code, 200, odd)

    def test_one_design_alone_and_one_that_is_not_simulated(self):
        self.assertIn("One design alone", side_view(self.page())["conclusion"])
        letter = self.copy()
        Design.objects.filter(letter=letter).update(scheme={**self.fresh().scheme, "plane": {}})
        broken = Design.objects.get(letter=letter)
        broken.scheme["system"] = {**broken.scheme["system"], "kind": "drainback"}
        broken.save()
        page = self.client.get(self.url("weigh"))
        self.assertContains(page, f"Design {letter} is not calculated")

    def test_tables_to_take_along_hold_the_same_figures(self):
        self.copy("pumped_plate")
        Design.objects.filter(letter="B").update(name="=1+1")
        rows = list(csv.reader(io.StringIO(self.client.get(self.url("weigh/designs.csv")).content.decode())))
        self.assertEqual(rows[0][:3], ["account", "unit", "A roof flat plate"])
        bought = next(row for row in rows if row[0] == "Bought")
        self.assertAlmostEqual(float(bought[2]), self.page().year.book.total(*BOUGHT))
        answer = self.client.get(self.url("weigh/designs.xlsx"))
        self.assertIn("spreadsheetml", answer["Content-Type"])
        page = load_workbook(io.BytesIO(answer.content)).active
        cells = {row[0].value: row[2].value for row in page.iter_rows()}
        self.assertAlmostEqual(cells["Bought"], float(bought[2]), places=6)

    def test_us_units(self):
        self.copy("pumped_plate")
        self.client.post("/units", {"units": "us"})
        page = self.client.get(self.url("weigh")).content.decode()
        self.assertIn("kBtu", page)
        rows = [row for row in re.findall(r"<tr.*?</tr>", page, re.DOTALL) if "kWh<" in row]
        self.assertTrue(rows and all("Pump" in row for row in rows), "power alone is counted in kWh")


class NextSteps(Comparing):
    def test_nothing_bought_is_not_nothing_lost(self):
        self.client.post(self.url("choose"), {"preset": "kind thermosiphon_open", "screen": "scheme"}, headers=HTMX)
        self.edit("system.backup.tankless.fitted", "0")
        self.edit("system.collector.count", "2")
        page = steps_view(self.page())
        self.assertEqual((page["merit"], page["buys"]), ("unmet heat", False))
        fewer = [row for row in page["parts"][1][1] if row["words"].startswith("collectors 2 to 1")]
        self.assertTrue(fewer and figure(fewer[0]["gain"]) < -50, page["nothing"])
        answer = self.client.get(self.url("weigh/next?by=cold"))
        self.assertContains(answer, "Judged by hours with the tap too cold")

    def test_a_pool_is_judged_by_its_warmth(self):
        self.client.post(self.url("choose"), {"preset": "kind pool_direct", "screen": "scheme"}, headers=HTMX)
        self.edit("demand.pool.heater_kw", "0")
        self.edit("demand.hot_water", "0")
        page = steps_view(self.page())
        self.assertEqual(page["merit"], "warmth of the pool in its season")
        self.assertTrue(any(row["words"].startswith("collectors") for row in page["parts"][0][1]))
        listed = self.client.get(self.url("cautions"))
        self.assertContains(listed, "Pool in its season, mean")
        self.assertNotContains(listed, "a valve mixes")  # no tap is fed
        self.assertNotContains(listed, "a loop with antifreeze")  # a pool's own water is in no such loop
        self.copy()
        self.edit("system.collector.count", "1")
        self.assertIn("warms the pool most", side_view(self.page())["conclusion"])

    def test_each_step_is_a_full_year_and_can_be_taken(self):
        design_page = self.page()
        page = steps_view(design_page)
        helps = page["parts"][0][1]
        more = next(row for row in helps if row["words"].startswith("collectors 2 to 3"))
        self.client.post(self.url("choose"), {"changes": more["way"], "screen": "weigh"}, headers=HTMX)
        after = self.page().year.book
        self.assertEqual(after.design.system.collector.count, 3)
        self.assertAlmostEqual(
            design_page.year.book.total(*BOUGHT) - after.total(*BOUGHT), figure(more["less"]), delta=0.6
        )
        less = [figure(row["less"]) for row in helps]
        self.assertEqual(less, sorted(less, reverse=True))
        self.assertIn("Of the system", page["conclusion"])

    def test_a_step_that_should_help_and_costs_has_its_reason_beside_it(self):
        """A store that keeps its heat meets its limit sooner: stood still for longer by the years themselves."""
        self.page(system__collector__count="4", system__control__store_limit_c="60", system__store__loss_w_k="1.6")
        page = self.page()
        found = {(step.path, step.then): made for step, made in years_of(page)}
        better = found["system.store.loss_w_k", 1.2]
        longer = better.limited_h - page.year.book.stagnation_hours()
        self.assertGreater(longer, 10)
        self.assertGreater(better.bought, page.year.book.total(*BOUGHT), "a store that keeps its heat costs here")
        title, rows, _helps = steps_view(page)["parts"][-1]
        self.assertEqual(title, "Steps that cost")
        row = next(row for row in rows if row["words"].startswith("store insulation loss 1.6 to 1.2"))
        self.assertEqual(row["notes"], [f"a limit keeps the pump still for {number(longer, 0)} h more"])

    def test_a_step_that_moves_more_than_its_value_names_it(self):
        self.client.post(self.url("choose"), {"preset": "kind tube_bank", "screen": "scheme"}, headers=HTMX)
        rows = [row for part in steps_view(self.page())["parts"] for row in part[1]]
        more = next(row for row in rows if row["path"] == "system.collector.count")
        now, then = (figure(word) for word in re.search(r"volume (\S+) to (\S+) L", more["notes"][0]).groups())
        counts = [figure(word) for word in re.search(r"(\d+) to (\d+)", more["words"]).groups()]
        self.assertAlmostEqual(then / now, counts[1] / counts[0], places=2)

    def test_steps_are_those_of_the_kind(self):
        paths = {step.path for step, _found in years_of(self.page())}
        self.assertIn("system.coil.ua_w_k", paths)
        self.client.post(self.url("choose"), {"preset": "kind batch_tank", "screen": "scheme"}, headers=HTMX)
        paths = {step.path for step, _found in years_of(self.page())}
        self.assertFalse({"system.coil.ua_w_k", "system.store.volume_l", "system.control.on_k"} & paths)
        for kind in ("pool_direct", "bag", "combi", "thermosiphon_sealed"):
            self.client.post(self.url("choose"), {"preset": f"kind {kind}", "screen": "scheme"}, headers=HTMX)
            page = self.client.get(self.url(f"weigh?{urlencode({'view': 'next'})}"))
            self.assertContains(page, "What the next step buys")
            self.assertContains(page, "weigh/next?r=")  # the page does not wait for thirty years
            self.assertContains(self.client.get(self.url("weigh/next")), "Step")
            again = self.client.get(self.url("weigh?view=next"))
            self.assertNotContains(again, "weigh/next?r=")  # they are at hand now
