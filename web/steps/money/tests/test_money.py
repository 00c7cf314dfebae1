"""Money on the page: the list follows the drawing and the hand, rates and grants move the years, the book goes and
comes back."""

import io
from pathlib import Path
from unittest.mock import patch

from openpyxl import load_workbook

from heat.economics.parts_list import parts_list
from heat.economics.prices import ITEMS, PRICES
from heat.errors import HeatError
from heat.simulation.year import simulate
from web.editor.design_page import DesignPage
from web.editor.tests.helpers import DesignPageCase, figure
from web.prices.books import prices_of, read_book
from web.projects.models import Design
from web.projects.services.designs import copy_design
from web.projects.tests.helpers import HTMX
from web.simulations.cache import others, years
from web.steps.money.burning import burning_view
from web.steps.money.cost import cost_view, offered
from web.steps.money.later_collectors import more_view
from web.steps.money.prices import prices_view
from web.steps.money.years import years_view
from web.ui.tests.browser import DemoCase

FROZEN, MOVING = {"keep": "1"}, {"keep": "0"}
"""What the page sends to offer a design with today's prices, and to let them follow the book."""


class MoneyCase(DesignPageCase):
    def do(self, name, status=200, **values):
        reply = self.client.post(self.url(f"money/{name}"), {"screen": "money", **values}, headers=HTMX)
        self.assertEqual(reply.status_code, status, reply.content[:300])
        return reply

    def line(self, key, field, value, status=200):
        return self.do("line", status, item=key, field=field, value=value)

    def rows(self):
        return {row["key"]: row for group in cost_view(self.page())["groups"] for row in group["rows"]}


class Costs(MoneyCase):
    def test_the_sums_are_those_of_the_lines(self):
        found = offered(self.page())
        page = cost_view(self.page())
        displayed = sum(figure(row["sum"]) for group in page["groups"] for row in group["rows"])
        self.assertAlmostEqual(displayed, float(found.parts + found.work), places=2)
        self.assertAlmostEqual(float(found.cost), float(found.parts) * 1.15 + float(found.work), delta=0.01)
        self.assertIn(page["total"], page["conclusion"])

    def test_one_change_on_the_drawing_changes_the_list_and_the_year_stays(self):
        before = self.rows()["collector"]["sum"]
        self.edit("system.collector.count", "4")
        self.assertAlmostEqual(figure(self.rows()["collector"]["sum"]), 2 * figure(before), places=2)
        year = self.page().year
        self.edit("money.interest", "5")
        self.assertIs(self.page().year, year)  # no year depends on money

    def test_changes_by_hand_are_come_back_and_are_undone(self):
        self.line("pump", "price", "99.50")
        self.assertEqual((self.rows()["pump"]["price"], self.rows()["pump"]["by_hand"]), ("99.50", "price"))
        self.line("pump", "quantity", "3")
        self.line("permit", "left_out", "1")
        self.assertTrue(self.rows()["permit"]["left_out"])
        self.assertEqual(figure(self.rows()["permit"]["sum"]), 0)
        self.client.post(self.url("undo"), {"screen": "money"}, headers=HTMX)
        self.assertFalse(self.rows()["permit"]["left_out"])
        self.line("pump", "price", "")
        self.line("pump", "quantity", "")
        self.assertEqual(self.rows()["pump"]["by_hand"], "")

    def test_lines_of_ones_own_and_wrong_numbers(self):
        self.do("add", words="scaffold", quantity="2", unit="day", price="150")
        own = self.rows()["own1"]
        self.assertEqual((own["words"], figure(own["sum"])), ("scaffold", 300))
        self.assertContains(self.do("add", 422, words="", price="1"), "Name the line", status_code=422)
        self.assertContains(self.do("add", 422, words="x", price="much"), "not a number", status_code=422)
        self.assertContains(self.line("pump", "price", "-3", 422), "Allowed: 0 to", status_code=422)
        self.assertContains(self.line("pump", "quantity", "lots", 422), "not a number", status_code=422)
        self.assertContains(self.line("nothing", "price", "3", 422), "not on the list", status_code=422)
        self.line("own1", "left_out", "1")
        self.assertNotIn("own1", self.rows())
        text = self.client.get(self.url("money/parts.csv")).content.decode()
        self.assertIn("collector", text)
        self.assertEqual(text.count("\n"), len([line for line in offered(self.page()).lines if not line.left_out]) + 4)

    def test_quantities_are_typed_in_the_readers_units(self):
        self.user.units = "us"
        self.user.save()
        self.line("supply_pipe", "quantity", "100")
        hand = self.fresh().document()["offer"]["lines"][0]
        self.assertAlmostEqual(hand["quantity"], 30.48, places=2)
        self.line("supply_pipe", "price", "1")
        self.assertAlmostEqual(self.fresh().document()["offer"]["lines"][0]["price"], 3.2808, places=3)


class Years(MoneyCase):
    def test_grants_and_rates_move_what_it_comes_to(self):
        page = years_view(self.page())
        before = figure(page["value"])
        self.client.post(
            self.url("rows"), {"path": "money.grants", "preset": "percent", "screen": "money"}, headers=HTMX
        )
        self.edit("money.grants.0.amount", "50")
        self.edit("money.grants.0.cap", "600")
        self.assertEqual(cost_view(self.page())["grants"][0]["cut"], "its cap")
        self.assertAlmostEqual(figure(years_view(self.page())["value"]), before + 600, delta=1.1)
        self.edit("money.interest", "8")
        self.assertLess(figure(years_view(self.page())["value"]), before + 600)
        self.assertContains(self.edit("money.interest", "400"), "Allowed: -5 to 30", status_code=422)
        self.assertContains(self.edit("money.horizon_years", "0"), "Allowed: 1 to 50", status_code=422)

    def test_a_tariff_is_typed_by_the_hour_and_a_flat_one_changes_nothing(self):
        self.edit("system.backup.element.fitted", "1")
        flat = offered(self.page()).energy
        price, _co2 = self.page().parsed.money.energy("power")
        self.edit("money.tariff", f"0 {price}")
        self.edit("money.pump_price_kwh", "9")
        self.assertAlmostEqual(offered(self.page()).energy.with_sun, flat.with_sun, places=6)
        self.edit("money.tariff", "6 0.4, 22 0.1")
        self.assertNotAlmostEqual(offered(self.page()).energy.bought["element"], flat.bought["element"], places=1)
        self.assertContains(self.edit("money.tariff", "6 0.4, 6 0.1"), "begins twice", status_code=422)
        self.assertContains(self.edit("money.tariff", "25 0.4"), "Allowed", status_code=422)

    def test_every_line_of_the_ledger_is_on_the_page_and_in_the_file(self):
        found = offered(self.page())
        page = years_view(self.page())
        self.assertEqual(len(page["lines"]), 21)
        rows = self.client.get(self.url("money/years.csv")).content.decode().splitlines()
        self.assertEqual(len(rows), 22)
        self.assertTrue(rows[-1].endswith(f"{found.years[-1].total},{found.years[-1].discounted}"))

    def test_boosts_and_fuels_are_years_of_the_same_design(self):
        self.edit("system.backup.element.fitted", "1")
        self.edit("money.tariff", "6 0.4, 22 0.1")
        page = burning_view(self.page())
        self.assertEqual([row["why"] for row in page["boosts"]], [""] * 4)
        weekly = page["boosts"][-1]
        self.assertLess(figure(weekly["bought"]), figure(page["boosts"][0]["bought"]))
        self.assertGreaterEqual(figure(weekly["cold"]), figure(page["boosts"][0]["cold"]))
        any_hour = page["boosts"][0]
        self.assertAlmostEqual(any_hour["cost"], offered(self.page()).energy.with_sun, places=6)
        night = next(row for row in page["boosts"] if "night" in row["words"])
        self.assertNotEqual(night["fraction"], any_hour["fraction"])
        power, pump = page["fuels"][0], page["fuels"][1]
        self.assertAlmostEqual(power["cost"], 2.8 * pump["cost"], places=6)
        self.assertAlmostEqual(power["cost"] + offered(self.page()).energy.pump, any_hour["cost"], places=6)

    def test_only_the_last_years_beside_a_design_are_stored(self):
        self.edit("system.backup.element.fitted", "1")
        for people in ("3", "4", "5"):
            self.edit("demand.people", people)
            for view in (burning_view, more_view):
                view(self.page())
                self.assertEqual(len(others.made), 1)

    def test_fuels_are_changed_added_and_taken_away(self):
        self.edit("money.fuels.2.price_kwh", "0.5")
        self.edit("money.fuels.2.standing", "100")
        gas = burning_view(self.page())["fuels"][2]
        heat = self.page().bought_kwh
        self.assertAlmostEqual(gas["cost"], heat / 0.92 * 0.5 + 100, places=6)
        self.assertContains(self.edit("money.fuels.2.efficiency", "0"), "Allowed: 0.2 to 6", status_code=422)
        for values, count in (({"preset": "fuel"}, 7), ({"index": "0"}, 6)):
            self.client.post(self.url("rows"), {"path": "money.fuels", "screen": "money", **values}, headers=HTMX)
            self.assertEqual(len(burning_view(self.page())["fuels"]), count)
        self.assertContains(self.client.get(self.url("money?view=burn")), "take it away: heat pump")

    def test_co2_of_power_by_month_and_hour_and_the_old_heater(self):
        self.edit("system.backup.element.fitted", "1")
        before = offered(self.page()).energy
        self.assertContains(self.edit("money.co2_by_month", "0.3 0.4"), "Twelve numbers", status_code=422)
        self.edit("money.co2_by_month", " ".join(["0.7"] * 12))
        self.assertAlmostEqual(offered(self.page()).energy.co2_kg, 2 * before.co2_kg, delta=1e-6 * before.co2_kg)
        self.edit("money.co2_by_hour", "0 " * 24)
        self.assertAlmostEqual(offered(self.page()).energy.co2_kg, 0)
        self.edit("money.co2_by_month", "")
        self.assertIsNone(self.fresh().document()["money"]["co2_by_month"])
        self.edit("money.old.efficiency", "0.5")
        tankless = self.fresh().document()["system"]["backup"]["tankless"]["efficiency"]
        self.assertAlmostEqual(
            offered(self.page()).energy.without, tankless / 0.5 * before.without, delta=0.001 * before.without
        )

    def test_every_design_is_measured_against_the_first_one_s_heater_or_the_typed_one(self):
        self.assertContains(self.client.get(self.url("money?view=years")), "gas heater, efficiency 0.92")
        second = copy_design(design=self.project.designs.get(), author=self.user)
        other = self.url("").replace("/A/", "/B/")
        path = "system.backup.tankless.efficiency"
        self.client.post(f"{other}edit", {"path": path, "value": "0.6", "screen": "money"}, headers=HTMX)
        page = lambda: DesignPage(Design.objects.get(pk=second.pk), self.user)
        self.assertEqual(page().document["system"]["backup"]["tankless"]["efficiency"], 0.6)
        self.assertEqual(page().old_heaters.efficiency, 0.92)
        self.assertAlmostEqual(offered(page()).energy.without, offered(self.page()).energy.without, delta=0.01)
        self.edit("money.old.burns", "oil")
        self.assertEqual((page().old_heaters.burns, page().old_heaters.price_kwh), ("oil", 0.12))
        self.assertContains(self.client.get(self.url("weigh?view=side")), "oil heater, efficiency 0.92")

    def test_a_grant_is_reported_in_what_it_is_an_amount_of(self):
        for preset, sign in (("percent", "%"), ("per_m2", "€/m²"), ("per_kwh", "€/kWh")):
            self.client.post(
                self.url("rows"), {"path": "money.grants", "preset": preset, "screen": "money"}, headers=HTMX
            )
            self.assertContains(self.client.get(self.url("money?view=years")), f"Amount, {sign}")

    def test_a_currency_has_its_sign_its_coins_and_its_rate_to_the_book(self):
        before = float(offered(self.page()).parts)
        self.edit("money.currency", "JPY")
        page = self.client.get(self.url("money"))
        self.assertContains(page, "The price book is in EUR, this project in JPY")
        self.edit("money.book_rate", "160")
        found = offered(self.page())
        self.assertAlmostEqual(float(found.parts), 160 * before, delta=len(found.lines))
        self.assertEqual(found.cost, found.cost.to_integral_value())
        self.assertIn("¥", cost_view(self.page())["conclusion"])
        self.assertNotContains(self.client.get(self.url("money?view=years")), ".00</td>")
        self.assertContains(self.edit("money.currency", "gold"), "", status_code=422)
        self.do("price", item="currency", value="JPY")
        self.assertAlmostEqual(float(offered(self.page()).parts), before, delta=len(found.lines))
        self.do("price", 422, item="currency", value="XXX")


class Books(MoneyCase):
    def test_a_price_changes_the_list_is_taken_back_and_marks_itself(self):
        self.do("price", item="pump", value="250")
        self.assertEqual(self.rows()["pump"]["price"], "250.00")
        self.assertEqual(prices_view(self.page())["own"], 1)
        self.do("prices-back")
        self.assertEqual(prices_of(self.user), PRICES)
        self.assertContains(self.do("price", 422, item="pump", value="-1"), "lies between", status_code=422)
        self.assertContains(self.do("price", 422, item="pump", value="dear"), "not a number", status_code=422)
        self.do("price", 422, item="gold", value="1")

    def test_a_design_keeps_the_prices_it_was_offered_with(self):
        before = self.rows()["pump"]["price"]
        self.do("offer", **FROZEN)
        self.do("price", item="pump", value="333")
        page = cost_view(self.page())
        self.assertEqual(self.rows()["pump"]["price"], before)
        self.assertEqual((len(page["moved"]), bool(page["dated"])), (1, True))
        self.do("offer", **MOVING)
        self.assertEqual(self.rows()["pump"]["price"], "333.00")

    def test_the_book_goes_and_comes_back_as_csv_and_spreadsheet(self):
        self.do("price", item="pump", value="251.5")
        table = self.client.get(self.url("money/prices.csv")).content
        book = self.client.get(self.url("money/prices.xlsx")).content
        self.assertEqual(load_workbook(io.BytesIO(book)).active.max_row, len(ITEMS) + 1)
        for raw in (table, book, table.replace(b",", b";")):
            self.assertEqual(read_book(raw, "EUR")["pump"], 251.5)
        self.do("prices-back")
        file = io.BytesIO(table)
        file.name = "prices.csv"
        self.do("prices-read", file=file)
        self.assertEqual(prices_of(self.user)["pump"], 251.5)

    def test_a_broken_row_is_named_and_nothing_is_taken(self):
        for raw, words in (
            (b"key,price\npump,12\ngold,3\n", "Row 3: there is no item"),
            (b"key,price\npump,dear\n", "Row 2, pump"),
            (b"key,price\npump,-1\n", "Row 2"),
            (b"key,price\npump,1\npump,2\n", "stands twice"),
            (b"item,cost\n", "first row must name"),
            (b"", "empty"),
            (b"PK\x03\x04rubbish", "cannot be read"),
            (b"key,price,currency\npump,12,eur\nanode,3,USD\n", "Row 3: USD in a book of EUR"),
        ):
            with self.subTest(words=words), self.assertRaisesRegex(HeatError, words):
                read_book(raw, "EUR")
        file = io.BytesIO(b"key,price\npump,12\ngold,3\n")
        file.name = "prices.csv"
        self.assertContains(self.do("prices-read", 422, file=file), "no item “gold”", status_code=422)
        self.assertEqual(prices_of(self.user), PRICES)


class More(MoneyCase):
    def test_each_further_collector_is_a_year_and_brings_less_than_the_one_before(self):
        page = more_view(self.page())
        self.assertEqual([row["count"] for row in page["rows"]], [2, 3, 4, 5, 6])
        self.edit("system.collector.count", "3")
        three = offered(self.page())
        self.assertEqual(figure(page["rows"][1]["bought"]), figure(self.page().bought_text.strip("()")))
        self.edit("system.collector.count", "2")
        two = offered(self.page())
        self.assertAlmostEqual(
            page["rows"][1]["years"], float(three.cost - two.cost) / (three.energy.saved - two.energy.saved)
        )
        brought = [figure(row["less"]) for row in page["rows"][1:]]
        self.assertEqual(brought, sorted(brought, reverse=True))

    def test_being_ready_costs_less_than_changing_it_then(self):
        for row in more_view(self.page())["ready"]:
            self.assertLess(figure(row["today"]), figure(row["then"]))


class Kinds(MoneyCase):
    def test_every_kind_has_its_money(self):
        for kind in ("batch_tank", "pool_direct", "thermosiphon_open", "combi", "drainback"):
            self.client.post(self.url("choose"), {"preset": f"kind {kind}", "screen": "scheme"}, headers=HTMX)
            for view in ("cost", "years", "burn", "more", "prices"):
                with self.subTest(kind=kind, view=view):
                    self.assertEqual(self.client.get(self.url(f"money?view={view}")).status_code, 200)

    def test_money_costs_one_year(self):
        self.client.get(self.url("scheme"))
        years.made.clear()
        with patch("web.simulations.cache.simulate_year", wraps=simulate) as year:
            self.client.get(self.url("money?view=cost"))
            self.assertEqual(year.call_count, 1)
        self.assertTrue(parts_list(offered(self.page()).design))


class MoneyInTheBrowser(DemoCase):
    def test_a_price_a_grant_and_a_tariff_change_the_payback(self):
        self.open_scheme()
        base = self.page.url.split("/scheme")[0] + "/money"
        self.page.goto(base)
        self.page.wait_for_selector(".parts")
        self.accessible()
        total = self.page.inner_text(".sums .total td")
        self.page.fill("#p-collector", "900")
        self.page.press("#p-collector", "Enter")
        self.page.wait_for_function("t => document.querySelector('.sums .total td').innerText !== t", arg=total)
        self.page.goto(base + "?view=years")
        self.page.wait_for_selector(".cash-ledger")
        self.accessible()
        text = self.page.inner_text(".worth")
        self.updated(lambda: self.page.click("button:has-text('a sum')"))
        self.assertNotEqual(self.page.inner_text(".worth"), text)
        self.page.fill("[data-path='money.tariff']", "6 0.40, 22 0.12")
        self.updated(lambda: self.page.press("[data-path='money.tariff']", "Tab"))
        self.accessible()
        self.page.goto(base + "?view=burn")
        self.page.wait_for_selector("[aria-label='What to burn']")
        self.accessible()
        self.page.goto(base + "?view=prices")
        self.page.wait_for_selector(".prices")
        self.accessible()

    def test_the_book_is_taken_along_changed_and_brought_back_by_keyboard(self):
        self.open_scheme()
        self.page.keyboard.press("6")
        self.page.wait_for_selector(".parts")
        base = self.page.url.split("?")[0]
        self.page.goto(base + "?view=prices")
        self.page.focus("#price-pump")
        self.page.keyboard.press("Control+a")
        self.page.keyboard.type("205")
        self.page.keyboard.press("Enter")
        self.page.wait_for_selector("#price-pump.own")
        with self.page.expect_download() as waiting:
            self.page.click("main a[href$='prices.csv']")
        text = Path(waiting.value.path()).read_text()
        self.assertIn("pump,pump with valves and flow gauge,piece,205.0,EUR", text)
        changed = {"name": "prices.csv", "mimeType": "text/csv", "buffer": text.replace(",205.0,", ",1205,").encode()}
        self.page.set_input_files("[name=file]", changed)
        self.page.focus("text=Take its prices")
        self.page.keyboard.press("Enter")
        self.page.wait_for_function("() => document.querySelector('#price-pump').value === '1205.00'")
        self.page.set_input_files("[name=file]", {**changed, "buffer": b"key,price\npump,dear\n"})
        self.page.click("text=Take its prices")
        self.assertIn("Row 2", self.page.inner_text(".message"))
        self.page.goto(base + "?view=years")
        self.updated(lambda: self.page.click("button:has-text('a share')"))
        paid = lambda: self.page.inner_text(".worth tr:nth-child(1) td")
        before = paid()
        self.page.fill("[data-path='money.grants.0.cap']", "50")
        self.updated(lambda: self.page.press("[data-path='money.grants.0.cap']", "Enter"))
        self.assertNotEqual(paid(), before)
        self.page.goto(base)
        self.page.wait_for_selector(".sums")
        self.assertIn("cut by\nits cap".replace("\n", " "), self.page.inner_text(".sums").replace("\n", " "))
