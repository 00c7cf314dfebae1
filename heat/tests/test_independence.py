"""A year does not depend on how finely it is calculated: any step of 1 to 12 minutes, any 10 to 100 layers."""

from functools import cache
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st

from heat.design import parse
from heat.design.schemes import SCHEMES
from heat.ledger import accounts as acc
from heat.simulation.year import simulate
from heat.tests.samples import example, weather_for

STEPS = (1, 2, 3, 4, 5, 6, 10, 12)
CORNERS = ((1, 60), (12, 10), (6, 100))


PUMPED = [kind for kind, scheme in SCHEMES.items() if scheme.driven_by == "pump"]


@cache
def figures(kind: str, minutes: int, layers: int) -> tuple[float, float, float]:
    """Solar fraction at the tap (%), pump hours (h) and pump power (kWh) of a kind's example by step (min) and layers
    (1)."""
    document = example(kind)
    document.setdefault("numerics", {}).update(step_minutes=minutes, layers=layers)
    design = parse(document)
    book = simulate(design, weather_for(design))
    return 100.0 * book.fractions.at_tap, book.pump_hours(), book.total(acc.PUMP_ELECTRICITY)


def fraction(kind: str, minutes: int, layers: int) -> float:
    return figures(kind, minutes, layers)[0]


class Independence(TestCase):
    def test_corners_agree_within_half_a_point(self):
        for kind in SCHEMES:
            usual = fraction(kind, 6, 20)
            for minutes, layers in CORNERS:
                with self.subTest(kind=kind, minutes=minutes, layers=layers):
                    self.assertAlmostEqual(fraction(kind, minutes, layers), usual, delta=0.5)

    def test_a_pump_runs_as_long_by_any_step(self):
        for kind in PUMPED:
            _fraction, hours, kwh = figures(kind, 6, 20)
            fine = figures(kind, 1, 20)
            with self.subTest(kind=kind):
                self.assertAlmostEqual(hours / fine[1], 1.0, delta=0.02)
                # a drainback lifts its water anew at each start, and short runs are what a longer step misses
                self.assertAlmostEqual(kwh / fine[2], 1.0, delta=0.05 if kind == "drainback" else 0.02)

    @settings(max_examples=12, deadline=None)
    @given(st.sampled_from(sorted(SCHEMES)), st.sampled_from(STEPS), st.integers(10, 60))
    def test_any_step_and_layers_agree_within_half_a_point(self, kind, minutes, layers):
        self.assertAlmostEqual(fraction(kind, minutes, layers), fraction(kind, 6, 20), delta=0.5)
