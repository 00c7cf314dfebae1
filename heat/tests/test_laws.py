"""Laws that hold for any design: books close, nothing is NaN, more sun is never less heat."""

from unittest import TestCase

import numpy as np
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from heat.design import Design, parse
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, SUN
from heat.simulation.year import simulate
from heat.tests.samples import case_design, clear_year, tmy3

number = st.floats
SLOW = settings(max_examples=25, deadline=None, suppress_health_check=[HealthCheck.too_slow])


@st.composite
def designs(draw):
    """Random valid designs over most of the allowed ranges."""
    coil_low, eta0 = draw(number(0, 0.5)), draw(number(0.2, 0.9))
    return parse(
        {
            "demand": {
                "people": draw(number(0.5, 40)),
                "litres_per_person_day": draw(number(1, 200)),
                "tap_c": draw(number(30, 65)),
                "hour_shape": draw(st.lists(number(0.1, 20), min_size=24, max_size=24)),
            },
            "site": {"latitude_deg": 36.1, "longitude_deg": -79.95},
            "plane": {"tilt_deg": draw(number(0, 90)), "azimuth_deg": draw(number(0, 360))},
            "system": {
                "collector": {
                    "count": draw(st.integers(1, 20)),
                    "area_m2": draw(number(0.5, 5)),
                    "eta0": eta0,
                    "a1_w_m2k": draw(number(1.6 * eta0, 20)),  # hotter than 700 °C it would be refused
                    "a2_w_m2k2": draw(number(0, 0.1)),
                    "a5_kj_m2k": draw(number(0, 60)),
                },
                "loop": {
                    "flow_kg_h": draw(number(10, 3000)),
                    "glycol_percent": draw(number(0, 60)),
                    "supply_pipe": {
                        "length_m": draw(number(0, 60)),
                        "insulation_mm": draw(number(0, 50)),
                        "outdoors": draw(st.booleans()),
                    },
                },
                "coil": {
                    "ua_w_k": draw(number(10, 3000)),
                    "bottom_share": coil_low,
                    "top_share": draw(number(coil_low + 0.05, 1.0)),
                },
                "control": {
                    "sensor_share": draw(number(0, 1)),
                    "stop_without_gain": draw(st.booleans()),
                    "store_limit_c": draw(number(40, 100)),
                },
                "store": {
                    "volume_l": draw(number(50, 5000)),
                    "loss_w_k": draw(number(0, 30)),
                    "conductivity_w_mk": draw(number(0, 10)),
                },
                "tempering_valve": draw(st.booleans()),
                "backup": {
                    "tankless": {"fitted": draw(st.booleans()), "power_kw": draw(number(1, 30))},
                    "element": {
                        "fitted": draw(st.booleans()),
                        "power_kw": draw(number(0.5, 12)),
                        "height_share": draw(number(0, 1)),
                        "sensor_share": draw(number(0, 1)),
                        "set_c": draw(number(30, 80)),
                    },
                },
            },
            "numerics": {
                "layers": draw(st.integers(1, 40)),
                "step_minutes": draw(st.sampled_from([6, 10, 15])),
                "inflow": draw(st.sampled_from(["plug", "stirred"])),
            },
        }
    )


class AnyDesign(TestCase):
    @SLOW
    @given(designs())
    def test_books_close_and_temperatures_stay_physical(self, design):
        book = simulate(design, tmy3())
        self.assertTrue(np.isfinite(book.books).all() and np.isfinite(book.profile).all())
        self.assertEqual(book.hours_closed, 8760, f"worst {book.residual_wh.max()} Wh")
        self.assertGreater(book.profile.min(), -30.0)
        self.assertLess(book.profile.max(), 260.0)
        self.assertTrue((np.diff(book.profile, axis=1) > -1e-6).all())
        self.assertGreaterEqual(book.total(acc.UNMET), -1e-9)
        self.assertGreaterEqual(book.hourly(*BOUGHT).min(), -1e-9)

    @settings(max_examples=8, deadline=None)
    @given(st.floats(1.02, 1.3), st.sampled_from(["eta0", "a1_w_m2k"]))
    def test_better_glass_or_less_loss_never_yields_less(self, factor, field):
        base = case_design().model_dump(mode="json")
        better = case_design().model_dump(mode="json")
        part = better["system"]["collector"]
        part[field] = min(part[field] * factor, 0.95) if field == "eta0" else part[field] / factor
        first, second = (simulate(parse(d), tmy3()).total(acc.INTO_STORE) for d in (base, better))
        self.assertGreaterEqual(second, first)

    def test_more_sun_never_yields_less(self):
        from dataclasses import replace

        design, dim = case_design(), tmy3()
        bright = replace(dim, ghi_w_m2=1.1 * dim.ghi_w_m2, dni_w_m2=1.1 * dim.dni_w_m2, dhi_w_m2=1.1 * dim.dhi_w_m2)
        self.assertGreater(simulate(design, bright).total(acc.INTO_STORE), simulate(design, dim).total(acc.INTO_STORE))

    def test_no_sun_buys_everything(self):
        from dataclasses import replace

        dark = replace(clear_year(), ghi_w_m2=np.zeros(8760), dni_w_m2=np.zeros(8760), dhi_w_m2=np.zeros(8760))
        book = simulate(Design(), dark)
        self.assertEqual(book.total(*SUN), 0.0)
        self.assertLess(book.fractions.at_tap, 0.15)

    def test_compiled_and_plain_python_agree(self):
        design = case_design()
        from heat.tests.plain import run_both

        compiled, plain = run_both(design, tmy3(), hours=24 * 4)
        np.testing.assert_allclose(compiled, plain, rtol=1e-9, atol=1e-7)
        self.assertGreater(np.abs(compiled).sum(), 0)


class Backup(TestCase):
    def _with(self, **backup):
        document = case_design().model_dump(mode="json")
        for part, values in backup.items():
            document["system"]["backup"][part] |= values
        return simulate(parse(document), tmy3())

    def test_element_carries_the_tap_alone(self):
        book = self._with(tankless={"fitted": False}, element={"fitted": True, "power_kw": 6.0, "set_c": 60.0})
        self.assertLess(book.total(acc.UNMET), 0.03 * book.total(acc.DEMAND))
        self.assertGreater(book.total(acc.BOUGHT_ELEMENT), 250.0)

    def test_nothing_fitted_leaves_heat_missing_and_counts_it(self):
        book = self._with(tankless={"fitted": False})
        self.assertGreater(book.total(acc.UNMET), 200.0)
        self.assertEqual(book.total(*BOUGHT), 0.0)
        self.assertLess(book.fractions.at_tap, 0.95)
        self.assertGreater(book.hours_below_tap(), 100.0)

    def test_element_low_in_the_tank_leaves_less_to_the_sun(self):
        low, high = (
            self._with(
                tankless={"fitted": False}, element={"fitted": True, "height_share": h, "sensor_share": h + 0.05}
            )
            for h in (0.02, 0.7)
        )
        self.assertLess(low.total(acc.INTO_STORE), high.total(acc.INTO_STORE))
