"""What a log can answer: tables read, verdicts, and a plant whose physics share no code with the engine."""

from unittest import TestCase

import numpy as np

from heat.design import parse
from heat.errors import HeatError
from heat.monitoring.diagnosis import Cause, diagnose
from heat.monitoring.likelihood import combined, modes_of, rows_ready
from heat.monitoring.log_file import read_log
from heat.monitoring.measured_days import SensorTraces, weather_of
from heat.monitoring.report import as_object, in_words
from heat.monitoring.verdict import judged
from heat.tests.plant.cases import made_case
from heat.tests.plant.physics import Plant, run
from heat.tests.samples import climate


def cause(share, gain=0.0, off=0.2, **sizes):
    return Cause(sizes, gain, share, {}, SensorTraces(0, {}), off, 1.0)


class Tables(TestCase):
    def test_times_with_and_without_an_offset_are_one_clock(self):
        plain = read_log("time,collector_c,pump\n2026-01-02T03:00,20.5,1\n2026-01-02T04:00,,0\n", 1.0)
        offset = read_log("time;collector_c;pump\n2026-01-02T04:00+02:00;20,5;1\n2026-01-02 05:00+02:00;;0\n", 1.0)
        for log in (plain, offset):
            np.testing.assert_allclose(log.hour, [27.0, 28.0])
            np.testing.assert_allclose(log.readings["collector"], [20.5, np.nan])
        self.assertEqual(plain.heights, ())

    def test_sensors_of_the_store_come_from_the_floor_up(self):
        log = read_log("time,store_top_c,store_floor_c\n2026-01-01T01:00,50,20\n", 0.0, (0.8, 0.1))
        self.assertEqual(log.heights, (0.1, 0.8))
        self.assertEqual(log.store_c[:, 0].tolist(), [20.0, 50.0])

    def test_what_cannot_be_read_is_named_with_its_line(self):
        for text, words in (
            ("when,collector_c\n2026-01-01,3\n", "no column “time”"),
            ("time,collector_c\nyesterday,3\n", "Line 2: “yesterday” is no time"),
            ("time,collector_c\n2026-01-01T01:00,warm\n", "Line 2, collector_c: “warm” is not a number"),
            ("time,moon\n2026-01-01T01:00,1\n", "holds no readings"),
            ("time,collector_c\n2026-01-01T01:00,1\n2027-03-01T01:00,1\n", "next year"),
        ):
            with self.subTest(text=text), self.assertRaisesRegex(HeatError, words):
                read_log(text, 0.0)


class Verdicts(TestCase):
    def test_a_share_that_is_high_is_named_and_a_low_one_is_not(self):
        self.assertEqual(judged([cause(0.9), cause(0.1, dirt=20.0)]).kind, "sound")
        self.assertEqual(judged([cause(0.9, 50.0, air=1.0), cause(0.1)]).kind, "likely")
        self.assertEqual(judged([cause(0.5, 50.0, air=1.0), cause(0.4, 45.0, slow=20.0), cause(0.1)]).kind, "one_of")
        many = [cause(0.2, 10.0, **{key: 1.0}) for key in ("air", "slow", "dirt", "few", "tree")]
        self.assertEqual(judged(many).kind, "unclear")
        self.assertEqual(judged([cause(0.99, 500.0, off=9.0, air=1.0), cause(0.01)]).kind, "nothing_fits")

    def test_what_explains_nearly_as_much_is_named_too(self):
        found = judged([cause(0.97, 100.0, dirt=20.0), cause(0.02, 92.0, few=50.0), cause(0.01)])
        self.assertEqual((found.kind, [one.keys for one in found.named]), ("one_of", [("dirt",), ("few",)]))


class OnAPlant(TestCase):
    def test_the_plant_balances_by_itself(self):
        """Without sun, flow and draws its store cools by its own loss alone: by hand, exp(-UA t/mc)."""
        plant, steps = Plant(), 8640
        still = np.zeros(steps)
        made = run(plant, still, still, np.full(steps, 10.0), 10.0, still, np.arange(steps) / 360.0, 50.0)
        by_hand = 18.0 + 32.0 * np.exp(-2.0 * 86_400.0 / (300.0 * 4186.0))
        self.assertAlmostEqual(float(made[-1, 6:].mean()), by_hand, delta=0.1)

    def test_answers_on_some_plants_are_right_and_no_sound_one_is_accused(self):
        """A few of the cases that the benchmark counts (python -m heat.tests.plant.benchmark)."""
        weather, named, alarms = climate("merrow_coast"), 0, 0
        for number in range(8):
            document, sizes, log = made_case(number, weather)
            ranked = diagnose(log, document, weather_of(log, parse(document), weather))
            verdict = judged(ranked)
            named += any(one.keys == tuple(sizes) for one in verdict.named)
            alarms += verdict.kind == "likely" and not sizes
            self.assertAlmostEqual(sum(one.share for one in ranked), 1.0)
            made = as_object(verdict, ranked, log, parse(document))
            self.assertEqual(made["verdict"], verdict.kind)
            self.assertTrue(in_words(verdict, ranked))
        self.assertGreaterEqual(named, 4)
        self.assertEqual(alarms, 0)

    def test_what_a_plant_is_off_by_as_a_whole_counts_little(self):
        """Readings that a tenth more flow and 6 % more sun explain are less off than the same size at random."""
        weather = climate("merrow_coast")
        document, _sizes, log = made_case(3, weather)
        design, sky = parse(document), weather_of(log, parse(document), weather)
        rows = rows_ready(log)
        modes = modes_of(log, design, sky, rows)
        self.assertIn("efficiency and sun", modes.words)
        likelihood = combined(rows, modes)
        column = np.concatenate([modes.by_row[row.name][:, 0] for row in rows])
        mixed = np.random.default_rng(1).permutation(column)
        size = lambda gap: float(np.linalg.norm(np.linalg.solve(likelihood.root, gap)))
        self.assertLess(size(column), 1.01)
        self.assertGreater(size(mixed), 3.0 * size(column))
