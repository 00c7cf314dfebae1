"""Faults in a system: what each costs, how it shows in the readings, and the game of finding it."""

import json
from urllib.parse import urlencode

from heat.design import parse
from heat.monitoring.faults import FAULTS, faulty_document, sized
from web.editor.tests.helpers import DesignPageCase, figure
from web.steps.year.faults import costs, possible, secret_fault
from web.steps.year.faults_view import faults_view


class Faults(DesignPageCase):
    def rows(self, **query):
        return {r["key"]: r for r in faults_view(self.page(urlencode(query)))["rows"]}

    def test_each_fault_costs_what_choosing_it_shows_and_changes_nothing(self):
        before = self.document()
        rows = self.rows()
        self.assertEqual(set(rows), set(FAULTS))
        for key in ("boiler", "air", "dirt", "high"):
            page = faults_view(self.page(f"m={key}"))
            self.assertEqual(page["together"]["bought"], rows[key]["kwh"])
            self.assertTrue(page["together"]["closed"])
            lines = sum(figure(line["text"]) for line in page["together"]["lines"])
            self.assertAlmostEqual(lines, figure(rows[key]["kwh"]), delta=4)
        self.assertGreater(figure(rows["boiler"]["kwh"]), figure(rows["air"]["kwh"]))
        self.assertTrue(
            all(figure(rows[k]["kwh"]) > 20 for k in ("boiler", "valve", "high", "low", "feels", "air", "dirt", "tree"))
        )
        self.assertEqual(rows["dirt"]["moves"], "lost: optics")
        self.assertEqual(self.document(), before)

    def test_a_later_date_costs_less_and_several_cost_more(self):
        whole, half = (figure(self.rows(**q)["air"]["kwh"]) for q in ({}, {"from": "1 Jul"}))
        self.assertTrue(0.2 * whole < half < 0.9 * whole)
        both = faults_view(self.page("m=dirt&m=valve"))["together"]
        self.assertGreater(figure(both["bought"]), figure(self.rows()["dirt"]["kwh"]))

    def test_sizes_are_typed_and_refused_in_their_place(self):
        typical, less = (figure(self.rows(**q)["dirt"]["kwh"]) for q in ({}, {"s-dirt": "5"}))
        self.assertTrue(0.2 * typical < less < 0.5 * typical)
        for text in ("91", "-1", "a lot", "1e400", "nan"):
            row = self.rows(**{"s-dirt": text})["dirt"]
            self.assertEqual((row["size"], figure(row["kwh"])), (text, typical))
            self.assertIn("0 to 90 %", row["wrong"])
        self.user.units = "us"
        self.user.save()
        self.assertEqual((self.rows()["high"]["usual"], self.rows()["high"]["unit"]), ("18", "°F"))
        self.user.units = "si"
        self.user.save()
        same = self.rows()["high"]["kwh"]
        self.user.units = "us"
        self.user.save()
        self.assertNotEqual(self.rows(**{"s-high": "9"})["high"]["kwh"], same)

    def test_a_small_store_loses_by_its_surface(self):
        store = faulty_document(self.document(), {"small": 50.0}, 1)["system"]["store"]
        whole = self.document()["system"]["store"]
        self.assertAlmostEqual(store["volume_l"], whole["volume_l"] / 2)
        self.assertAlmostEqual(store["loss_w_k"], whole["loss_w_k"] * 0.5 ** (2 / 3))

    def test_one_loop_has_one_flow(self):
        page = self.client.get(self.url("year?view=faults&m=slow&m=fast"))
        self.assertContains(page, "too high is taken")
        self.assertEqual(page.context["m"]["chosen"], ["fast"])

    def test_what_the_core_refuses_is_reported_on_its_line(self):
        design = self.fresh()
        design.scheme["system"]["store"]["volume_l"] = 60
        design.save()
        page = self.client.get(self.url("year?view=faults&m=small&m=dirt&s-small=5"))
        self.assertContains(page, "Not calculated together: system.store.volume_l")
        rows = {r["key"]: r for r in page.context["m"]["rows"]}
        self.assertIn("5 to 100000 L", rows["small"]["why"])
        self.assertIn("kwh", rows["dirt"])

    def test_every_typical_size_lies_in_its_range_and_the_cores(self):
        page = self.page()
        for key, item in FAULTS.items():
            self.assertTrue(item.low <= item.size <= item.high, key)
            for size in (item.size, item.high, *(() if item.design else (item.low,))):
                parse(faulty_document(page.document, {key: size}, 1))
        self.assertEqual(sized(["dirt", "valve"], {"dirt": 3.0}), {"dirt": 3.0, "valve": 1.0})
        self.assertEqual([cost["key"] for cost in costs(page, 1)], list(possible(page)))

    def test_readings_show_the_sign(self):
        page = faults_view(self.page("m=air"))
        self.assertEqual(
            [r["words"] for r in page["readings"]], ["Collector sensor", "Store sensor", "Store top", "Pump"]
        )
        self.assertTrue(all(r["usual"] != r["odd"] for r in page["readings"]))
        self.assertTrue(all(len(values) == 72 for r in page["readings"] for values in json.loads(r["values"])))

    def test_a_wrong_sensor_is_wrong_on_the_controller(self):
        high = faults_view(self.page("m=high"))
        usual, odd = json.loads(high["readings"][0]["values"])
        self.assertGreater(figure(odd[3]), figure(usual[3]) + 9)  # ten too warm, at night too
        low = faults_view(self.page("m=low"))
        usual, odd = json.loads(low["readings"][1]["values"])
        self.assertLess(figure(odd[high["at"]]), figure(usual[high["at"]]))
        warmth = {t["words"]: t for t in high["together"]["temperatures"]}["store top, mean of the year"]
        self.assertLess(figure(warmth["odd"].strip("°")), figure(warmth["usual"].strip("°")))

    def test_kinds_without_a_pump_suffer_fewer(self):
        for kind, count in (
            ("batch_tank", 3),
            ("thermosiphon_sealed", 8),
            ("direct", 16),
            ("drainback", 16),
            ("pool_direct", 11),
        ):
            self.client.post(
                self.url("choose"), {"preset": f"kind {kind}", "screen": "scheme"}, headers={"HX-Request": "true"}
            )
            self.assertEqual(len(possible(self.page())), count)
            self.assertContains(self.client.get(self.url("year?view=faults&m=dirt")), "dirt on the glass")

    def test_the_game_hides_a_fault_and_explains_it(self):
        page = self.page()
        hidden = {secret_fault(page, n) for n in range(60)}
        self.assertGreater(len(hidden), 8)
        key = secret_fault(page, 7)
        requested = self.client.get(self.url("year?view=faults&find=7"))
        self.assertNotContains(requested, FAULTS[key].sign)
        other = next(k for k in FAULTS if k != key)
        self.assertContains(
            self.client.get(self.url(f"year?view=faults&find=7&guess={other}")), f"it is {FAULTS[key].words}"
        )
        self.assertContains(
            self.client.get(self.url(f"year?view=faults&find=7&guess={key}")), f"Yes: {FAULTS[key].words}"
        )

    def test_the_game_keeps_score_of_first_answers(self):
        design_page = self.page()
        key = secret_fault(design_page, 1)
        other = next(k for k in FAULTS if k != key)
        for guess in (other, key):  # only the first answer counts
            page = self.client.get(self.url(f"year?view=faults&find=1&guess={guess}"))
            self.assertContains(page, "0 of 1 named at the first answer")
        page = self.client.get(self.url(f"year?view=faults&find=2&guess={secret_fault(design_page, 2)}"))
        self.assertContains(page, "1 of 2 named at the first answer")
        self.assertContains(self.client.get(self.url("year?view=faults")), "find=3")

    def test_what_reads_alike_is_not_requested(self):
        page = self.page()
        hidden = {secret_fault(page, n) for n in range(80)}
        self.assertNotIn("bundled", hidden)
        self.assertIn("air", hidden)

    def test_odd_addresses_are_borne(self):
        for tail in (
            "from=31 Feb",
            "from=x",
            "m=gold&m=dirt",
            "find=²",
            "find=99999999999",
            "find=1&guess=gold",
            "m=dirt&day=364",
        ):
            self.assertEqual(self.client.get(self.url(f"year?view=faults&{tail}")).status_code, 200, tail)
        self.assertContains(self.client.get(self.url("year?view=faults&from=31 Feb")), "not a day of the year")
