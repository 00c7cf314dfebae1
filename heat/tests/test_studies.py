"""Plans, effects, bands and searches, each against an answer that is known."""

from concurrent.futures import ProcessPoolExecutor
from contextlib import contextmanager
from multiprocessing import current_process
from unittest import TestCase

import numpy as np

from heat.catalogue import entries
from heat.common.documents import value_or_none
from heat.design import parse
from heat.design.changing import kind_changes, with_changes
from heat.economics.offer import figures, offered
from heat.errors import HeatError
from heat.simulation.year import simulate
from heat.studies.effects import contrast, effects, front
from heat.studies.following import AREA, COUNT, VOLUME, following
from heat.studies.next_steps import steps
from heat.studies.outcome import COLUMN, KEYS, MONEY, Outcomes, evaluate_design, evaluate_designs, repriced
from heat.studies.plans import factorial, is_whole, plan, sampled, spread
from heat.studies.question import Limit, design_of, meets_limits, names_of, question_of, table
from heat.studies.search import Free, search
from heat.studies.uncertainty import (
    BAND,
    USUAL,
    UncertainInput,
    band,
    draws,
    of_use,
    perturbed,
    perturbed_year,
    with_second_opinion,
)
from heat.tests.samples import case_design, example, tmy3, weather_for

COUNTS = (2, 3, 4)
A, B, C = np.array([-1.0, 1.0]), np.array([-3.0, 0.5, 2.5]), np.array([-0.3, -0.1, 0.1, 0.3])


def document():
    return case_design().model_dump(mode="json")


def added(levels):
    return 50.0 + A[levels[:, 0]] + B[levels[:, 1]] + C[levels[:, 2]]


@contextmanager
def as_a_parent():
    """Let a process of the test runner's pool have processes of its own."""
    current = current_process().daemon
    current_process()._config["daemon"] = False
    try:
        yield
    finally:
        current_process()._config["daemon"] = current


class Plans(TestCase):
    def test_every_combination_once(self):
        levels = factorial(COUNTS)
        self.assertEqual(len({tuple(row) for row in levels}), 24)
        self.assertTrue(is_whole(levels, COUNTS))
        self.assertEqual(levels[1].tolist(), [0, 0, 1])

    def test_a_sample_is_even_repeatable_and_without_doubles(self):
        counts = (2, 3, 4, 5, 6, 7)
        levels = sampled(counts, 400)
        self.assertEqual(len({tuple(row) for row in levels}), 400)
        for k, count in enumerate(counts):
            times = np.bincount(levels[:, k], minlength=count)
            self.assertLess(abs(times - 400 / count).max(), 0.12 * 400 / count, k)
        np.testing.assert_array_equal(levels, sampled(counts, 400))
        self.assertEqual(len(plan(counts, 10_000)), 5040)
        self.assertEqual(len(plan(counts, 100)), 100)


class Effects(TestCase):
    def test_an_additive_table_gives_back_its_parts_exactly(self):
        levels = factorial(COUNTS)
        found = effects(levels, COUNTS, added(levels))
        for question, part in zip(found.questions, (A, B, C), strict=True):
            np.testing.assert_allclose(question.means, 50.0 + part, atol=1e-10)
            self.assertAlmostEqual(question.share, part.var() / (A.var() + B.var() + C.var()), places=12)
        self.assertAlmostEqual(found.variance, A.var() + B.var() + C.var(), places=10)
        self.assertEqual(found.pairs, ())
        self.assertAlmostEqual(found.rest, 0.0, places=12)
        np.testing.assert_allclose(found.questions[1].lows, [45.7, 49.2, 51.2])
        np.testing.assert_allclose(found.questions[1].highs, [48.3, 51.8, 53.8])

    def test_a_pair_that_does_not_add_is_named_with_its_sharpest_contrast(self):
        levels = factorial(COUNTS)
        more = np.where((levels[:, 0] == 1) & (levels[:, 1] == 2), 6.0, 0.0)
        found = effects(levels, COUNTS, added(levels) + more)
        (pair,) = found.pairs
        self.assertEqual((pair.first, pair.second), (0, 1))
        # by hand: 6 in one of six cells, its row and column means taken off: 6 (1 - 1/2)(1 - 1/3) = 2 there
        self.assertAlmostEqual(pair.cells[1, 2], 2.0, places=10)
        self.assertAlmostEqual(sum(q.share for q in found.questions) + pair.share, 1.0, places=10)
        sharpest = contrast(found, pair)
        self.assertEqual((sharpest.question, sharpest.better, sharpest.worse, sharpest.here), (0, 1, 0, 2))
        self.assertAlmostEqual(sharpest.gain_here, 8.0, places=9)
        self.assertAlmostEqual(sharpest.gain_there, 2.0, places=9)

    def test_refused_rows_and_samples_leave_the_effects_where_they_were(self):
        levels = factorial(COUNTS)
        outcome = added(levels)
        outcome[[0, 5, 17]] = np.nan
        found = effects(levels, COUNTS, outcome)
        np.testing.assert_allclose(found.questions[1].means, 50.0 + B, atol=1e-9)
        counts = (2, 3, 4, 5, 6, 7)
        rows = sampled(counts, 300)
        noise = np.random.default_rng(1).normal(0, 0.3, 300)
        found = effects(rows, counts, added(rows) + noise)
        np.testing.assert_allclose(found.questions[1].means - found.mean, B, atol=0.1)
        self.assertEqual(found.pairs, ())  # chance is no interaction
        self.assertAlmostEqual(sum(q.share for q in found.questions) + found.rest, 1.0, places=9)

    def test_nothing_and_no_difference(self):
        levels = factorial((2, 2))
        found = effects(levels, (2, 2), np.full(4, np.nan))
        self.assertTrue(np.isnan(found.mean))
        found = effects(levels, (2, 2), np.full(4, 7.0))
        self.assertAlmostEqual(found.mean, 7.0, places=12)
        self.assertEqual((found.variance, [q.share for q in found.questions]), (0.0, [0.0, 0.0]))
        only = effects(levels, (2, 2), np.array([1.0, 2.0, np.nan, np.nan]))
        self.assertTrue(np.isnan(only.questions[0].means[1]))

    def test_the_front(self):
        cost = np.array([5.0, 3.0, 4.0, 4.0, np.nan, 6.0])
        gain = np.array([9.0, 2.0, 5.0, 6.0, 99.0, 9.0])
        self.assertEqual(front(cost, gain).tolist(), [1, 3, 0])


class Spread(TestCase):
    def test_each_stratum_of_each_side_holds_one_point(self):
        points = spread(4, 50, seed=3)
        for side in points.T:
            self.assertEqual(sorted((side * 50).astype(int)), list(range(50)))
        np.testing.assert_array_equal(points, spread(4, 50, seed=3))
        self.assertLess(abs(np.corrcoef(spread(3, 400).T) - np.eye(3)).max(), 0.15)


class Bands(TestCase):
    UNCERTAINTIES = (UncertainInput("x", "x", 1.0), UncertainInput("y", "y", 1.0))

    def test_a_sum_of_normals_has_the_band_and_the_shares_of_one(self):
        drawn = draws(self.UNCERTAINTIES, 4000)
        found = band(self.UNCERTAINTIES, drawn, 100.0 + 3.0 * drawn[:, 0] + 4.0 * drawn[:, 1])
        self.assertEqual(BAND, (0.1, 0.5, 0.9))
        for edge, wanted in zip(found.edges, (100 - 1.2816 * 5, 100, 100 + 1.2816 * 5), strict=True):
            self.assertAlmostEqual(edge, wanted, delta=0.3)
        self.assertAlmostEqual(found.shares["x"], 0.36, delta=0.01)
        self.assertAlmostEqual(found.shares["y"], 0.64, delta=0.01)
        self.assertAlmostEqual(found.rest, 0.0, delta=0.01)

    def test_inputs_are_off_as_drawn_and_what_a_kind_lacks_stays(self):
        before = document()
        drawn = np.array([1.0 if d.key == "collector" else 0.0 for d in USUAL])
        after = perturbed(before, USUAL, drawn, with_changes)
        self.assertAlmostEqual(
            after["system"]["collector"]["eta0"], before["system"]["collector"]["eta0"] * 1.02, places=9
        )
        self.assertEqual(after["demand"], before["demand"])
        sunny = perturbed_year(tmy3(), USUAL, np.array([2.0 if d.key in ("sun", "air") else 0.0 for d in USUAL]))
        self.assertAlmostEqual(sunny.ghi_w_m2.sum() / tmy3().ghi_w_m2.sum(), 1.10, places=6)
        self.assertAlmostEqual(float((sunny.air_c - tmy3().air_c).mean()), 1.4, places=6)

    def test_a_second_opinion_outside_widens_a_band_and_one_inside_does_not(self):
        self.assertEqual(with_second_opinion(0.69, 0.77, 0.619), (0.619, 0.77))
        self.assertEqual(with_second_opinion(0.69, 0.77, 0.80), (0.69, 0.80))
        for inside in (0.72, 0.69 - 0.004, None):
            self.assertEqual(with_second_opinion(0.69, 0.77, inside), (0.69, 0.77))

    def test_what_a_design_has_is_uncertain_however_it_is_told(self):
        def moved(kind, key, **changes):
            own = {k.replace("__", "."): v for k, v in changes.items()}
            before = with_changes(document(), kind_changes(document(), kind) | own)
            self.assertIn(key, {one.key for one in of_use(before)})
            drawn = np.array([1.0 if d.key == key else 0.0 for d in USUAL])
            return before, perturbed(before, USUAL, drawn, with_changes)

        at = value_or_none
        for kind, key, path, changes in (
            ("combi", "building", "demand.heating.loss_w_k", {}),
            ("combi", "building", "demand.heating.fuel_year", {"demand__heating__source": "fuel"}),
            ("batch_tank", "store loss", "system.integral.back_w_m2k", {}),
            ("pumped_coil", "store loss", "system.store.insulation_w_mk", {"system__store__insulation_mm": 80.0}),
            ("direct", "pipe loss", "system.loop.supply_pipe.loss_w_k", {"system__loop__supply_pipe__loss_w_k": 3.0}),
            ("pumped_coil", "litres", "demand.measured_l", {"demand__measured_l": [5.0] * 24}),
        ):
            with self.subTest(path=path):
                before, after = moved(kind, key, **changes)
                spread = next(one.spread for one in USUAL if one.key == key)
                ratio = np.array(at(after, path), float) / np.array(at(before, path), float)
                np.testing.assert_allclose(ratio, 1.0 + spread)
        self.assertNotIn("building", {one.key for one in of_use(document())})

    def test_a_year_under_uncertainty_holds_its_own_figure(self):
        drawn = draws(USUAL, 24)
        years = [
            evaluate_design(perturbed(document(), USUAL, row, with_changes), perturbed_year(tmy3(), USUAL, row))[0]
            for row in drawn
        ]
        outcome = np.array(years)[:, COLUMN["fraction"]]
        low, _middle, high = band(USUAL, drawn, outcome).edges
        self.assertTrue(low < evaluate_designs([document()], tmy3())["fraction"][0] < high)
        self.assertTrue(0.02 < high - low < 0.25, (low, high))


class NextSteps(TestCase):
    def test_up_and_down_within_range_and_only_what_the_kind_uses(self):
        found = steps(document())
        by = {}
        for step in found:
            by.setdefault(step.path, []).append(step.then)
        self.assertIn("system.coil.ua_w_k", by)
        self.assertNotIn("system.plate.ua_w_k", by)
        self.assertNotIn("system.backup.boiler.set_c", by)
        now = document()["system"]["store"]["volume_l"]
        self.assertEqual(by["system.store.volume_l"], [0.75 * now, 1.25 * now])
        self.assertTrue(all(isinstance(v, int) for v in by["system.collector.count"]))
        self.assertEqual(len(by["demand.leaks_l_day"]), 1)  # below nothing there is nothing
        for step in found:
            self.assertEqual(evaluate_design(with_changes(document(), {step.path: step.then}), tmy3())[1], "", step)


def bowl(x, y):
    """Figures of a made-up design whose bought heat is least at tilt 37, azimuth 195."""
    row = np.zeros(len(KEYS))
    row[COLUMN["bought_kwh"]] = 100 + 0.1 * (x - 37) ** 2 + 0.02 * (y - 195) ** 2
    row[COLUMN["stagnation_h"]] = 90 - x
    return row


def pretended(documents):
    return Outcomes(np.array([bowl(d["plane"]["tilt_deg"], d["plane"]["azimuth_deg"]) for d in documents]))


FREE = (Free("plane.tilt_deg", 0, 90, 1), Free("plane.azimuth_deg", 90, 270, 5))


class Searching(TestCase):
    def test_the_bottom_of_a_bowl_is_found_and_no_design_is_simulated_twice(self):
        simulated = []

        def run(documents):
            simulated.extend((d["plane"]["tilt_deg"], d["plane"]["azimuth_deg"]) for d in documents)
            return pretended(documents)

        best = search(document(), FREE, "bought_kwh", run, with_changes)
        self.assertEqual(best.values, {"plane.tilt_deg": 37, "plane.azimuth_deg": 195})
        self.assertEqual(len(simulated), len(set(simulated)))
        self.assertEqual(best.years, len(simulated))
        most = search(document(), FREE, "bought_kwh", pretended, with_changes, most=True)
        self.assertEqual(most.values["plane.tilt_deg"], 90)

    def test_limits_are_stored_and_impossible_ones_end_in_nothing(self):
        near = search(
            document(), FREE, "bought_kwh", pretended, with_changes, limits=[Limit(key="stagnation_h", most=40)]
        )
        self.assertEqual(near.values, {"plane.tilt_deg": 50, "plane.azimuth_deg": 195})
        none = search(
            document(), FREE, "bought_kwh", pretended, with_changes, limits=[Limit(key="stagnation_h", most=-1)]
        )
        self.assertIsNone(none)

    def test_it_reports_its_best_and_stops_at_will(self):
        reported = []
        search(document(), FREE, "bought_kwh", pretended, with_changes, progress=lambda b: bool(reported.append(b)))
        goals = [b.figures[COLUMN["bought_kwh"]] for b in reported]
        self.assertEqual(goals, sorted(goals, reverse=True))
        few = []
        search(document(), FREE, "bought_kwh", pretended, with_changes, progress=lambda b: bool(few.append(b)) or True)
        self.assertEqual(len(few), 1)

    def test_full_years_find_the_best_of_a_fine_scan(self):
        scan = [(t, a) for t in range(20, 61, 5) for a in range(150, 211, 15)]
        run = lambda documents: evaluate_designs(documents, tmy3())
        years = run([with_changes(document(), {"plane.tilt_deg": t, "plane.azimuth_deg": a}) for t, a in scan])
        tilt, azimuth = scan[int(np.argmin(years["bought_kwh"]))]
        free = (Free("plane.tilt_deg", 20, 60, 5), Free("plane.azimuth_deg", 150, 210, 15))
        best = search(document(), free, "bought_kwh", run, with_changes)
        self.assertEqual((best.values["plane.tilt_deg"], best.values["plane.azimuth_deg"]), (tilt, azimuth))
        self.assertLess(best.years, len(scan) + 1)


WAYS = {"name": "way", "answers": [{"name": "coil", "kind": "pumped_coil"}, {"name": "drainback", "kind": "drainback"}]}
QUESTION = {
    "questions": [
        {
            "name": "collector",
            "answers": [{"name": "plates", "entry": "flat_selective"}, {"name": "tubes", "entry": "tube_heatpipe"}],
        },
        WAYS,
        {"name": "tilt", "answers": [{"name": f"{t}°", "set": {"plane.tilt_deg": t}} for t in (20, 45, 70)]},
    ],
    "limits": [{"key": "stagnation_h", "most": 50}],
}


class MoneyOfRows(TestCase):
    def test_prices_that_moved_since_give_the_row_that_would_be_simulated_now(self):
        document = with_changes(
            case_design().model_dump(mode="json"),
            {"system.backup.element.fitted": True, "demand.before.leaks_l_day": 20.0, "money.water_counts": True},
        )
        moved = with_changes(
            document,
            {
                "money.interest": 5.0,
                "money.grants": [{"kind": "per_kwh", "amount": 0.2}],
                "money.horizon_years": 12,
                "offer.prices": {"collector_flat": 500.0, "fitter": 80.0},
            },
        )
        then, now = (np.array(evaluate_design(d, tmy3())[0]) for d in (document, moved))
        self.assertFalse(np.allclose(then[-5:], now[-5:]))
        np.testing.assert_allclose(repriced(then, parse(moved), {}), now[-5:], rtol=1e-9)
        self.assertEqual(tuple(figures(offered(parse(document), simulate(parse(document), tmy3()), {}))), MONEY)
        life, economics = now[COLUMN["life_cycle_cost"]], now[COLUMN["present_value"]]
        without = sum(now[COLUMN["energy_without"]] * 1.02 ** (t - 1) / 1.05**t for t in range(1, 13))
        self.assertAlmostEqual(life + economics, without, delta=0.15)


class Following(TestCase):
    def test_a_larger_store_of_the_same_make_loses_more(self):
        made = document()
        volume, loss = made["system"]["store"]["volume_l"], made["system"]["store"]["loss_w_k"]
        self.assertEqual(following(made, {"system.store.volume_l": volume})["system.store.loss_w_k"], loss)
        double = following(made, {"system.store.volume_l": 2 * volume})["system.store.loss_w_k"]
        skin = 2.0 ** (2.0 / 3.0)  # of two bodies of one shape; real makes lie below, their fittings stay as they are
        self.assertTrue(1.15 * loss < double < skin * loss, double / loss)
        given = {"system.store.volume_l": 2 * volume, "system.store.loss_w_k": 1.0}
        self.assertEqual(following(made, given), given)
        self.assertEqual(following(made, {"plane.tilt_deg": 30.0}), {"plane.tilt_deg": 30.0})

    def test_a_store_that_is_its_own_collector_grows_with_its_glass(self):
        made = parse(example("tube_bank")).model_dump(mode="json")
        litres, count, area = (
            made["system"]["store"]["volume_l"],
            made["system"]["collector"]["count"],
            made["system"]["collector"]["area_m2"],
        )
        self.assertEqual(following(made, {COUNT: 2 * count})[VOLUME], 2 * litres)
        self.assertEqual(
            following(made, {COUNT: 2 * count, AREA: area / 2}), {COUNT: 2 * count, AREA: area / 2, VOLUME: litres}
        )
        self.assertEqual(following(made, {COUNT: 2, VOLUME: 90.0})[VOLUME], 90.0)
        self.assertNotIn(VOLUME, following(made, {COUNT: "two"}))
        self.assertNotIn(VOLUME, following(document(), {COUNT: 5}))
        weather = weather_for(parse(made))
        one, thinner, two = (
            simulate(parse(with_changes(made, changes)), weather).fractions.at_tap
            for changes in ({}, {COUNT: 2 * count}, following(made, {COUNT: 2 * count}))
        )
        self.assertGreater(two, one)
        self.assertLess(thinner, one)


class Questions(TestCase):
    def test_a_combination_is_made_of_kind_entry_and_values(self):
        question = question_of(QUESTION)
        self.assertEqual(question.counts, (2, 2, 3))
        made = design_of(document(), question, [1, 1, 2])
        system = made["system"]
        self.assertEqual((system["kind"], made["plane"]["tilt_deg"]), ("drainback", 70))
        self.assertEqual(system["collector"]["eta0"], entries()["tube_heatpipe"].values["eta0"])
        self.assertEqual(system["loop"]["glycol_percent"], 0)
        self.assertEqual(names_of(question, [1, 1, 2]), ["tubes", "drainback", "70°"])

    def test_refused_combinations_stay_in_the_table_with_their_reason(self):
        requested = {
            "questions": [
                WAYS,
                {
                    "name": "fluid",
                    "answers": [
                        {"name": "water", "set": {"system.loop.glycol_percent": 0}},
                        {"name": "glycol", "set": {"system.loop.glycol_percent": 40}},
                    ],
                },
            ]
        }
        question = question_of(requested)
        levels = factorial(question.counts)
        years = evaluate_designs([design_of(document(), question, row) for row in levels], tmy3())
        rows = table(question, levels, years.figures, years.refused)
        self.assertIn("holds plain water", rows[3]["refused"])
        self.assertEqual([bool(r["refused"]) for r in rows], [False, False, False, True])
        self.assertTrue(np.isnan(rows[3]["fraction"]) and rows[0]["fraction"] > 0)
        limited = question_of({**requested, "limits": [{"key": "fraction", "least": 2.0}]})
        self.assertFalse(meets_limits(limited, rows[0]))
        self.assertTrue(meets_limits(question, rows[0]))

    def test_what_cannot_be_requested_is_reported(self):
        twenty = [{"name": "q", "answers": [{"name": str(i), "set": {}} for i in range(8)]}] * 7
        for found, words in (
            ({"questions": []}, "questions"),
            ({"questions": twenty}, "at most 100000 combinations"),
            ({"questions": [{"name": "x", "answers": [{"name": "only"}]}]}, "questions.0.answers"),
            ({"questions": [{"name": "x", "answers": [{"name": "a", "kind": "sail"}, {"name": "b"}]}]}, "kind “sail”"),
            ({"questions": [{"name": "x", "answers": [{"name": "a", "entry": "tin"}, {"name": "b"}]}]}, "no “tin”"),
            ({**QUESTION, "limits": [{"key": "beauty", "most": 1}]}, "there is no “beauty”"),
            ([], "question"),
        ):
            with self.subTest(words=words), self.assertRaisesRegex(HeatError, words):
                question_of(found)

    def test_threads_and_processes_give_the_same_table_to_the_last_bit(self):
        question = question_of(QUESTION)
        designs = [design_of(document(), question, row) for row in factorial(question.counts)]
        threads = evaluate_designs(designs, tmy3())
        with as_a_parent(), ProcessPoolExecutor(1) as executor:
            processes = evaluate_designs(designs[:4], tmy3(), executor=executor)
        np.testing.assert_array_equal(processes.figures, threads.figures[:4])
        np.testing.assert_array_equal(evaluate_designs(designs[::-1], tmy3(), workers=1).figures[::-1], threads.figures)
