"""Skyline, trees, overhang, rows and mirror; incidence on tubes and troughs."""

from dataclasses import replace
from unittest import TestCase

import numpy as np

from heat.collector.incidence import biaxial_angles, biaxial_modifier, hemispherical_table, table_modifier
from heat.common.compiled import PACKAGE
from heat.design import parse
from heat.design.place import Plane, Site
from heat.ledger import accounts as acc
from heat.simulation.year import simulate
from heat.sun.mirror import mirror_beam
from heat.sun.shade import lets_through, overhang_beam, rows_beam, shade_on
from heat.tests.samples import case_design, clear_year, tmy3
from heat.weather.year import sun_year

EXAMPLES = PACKAGE.parent / "docs" / "examples"


class Shade(TestCase):
    def test_share_lost_to_a_skyline_is_the_integral(self):
        """An even skyline of 20° before an isotropic sky: hidden share by numerical integration."""
        site = Site(skyline=({"bearing_deg": 0.0, "altitude_deg": 20.0},))
        shade = shade_on(site, Plane(tilt_deg=0), sun_year(clear_year()))
        self.assertAlmostEqual(shade.sky[0], np.cos(np.radians(20.0)) ** 2, delta=0.01)
        height = np.degrees(np.arcsin(sun_year(clear_year()).cos_zenith))
        np.testing.assert_array_equal(shade.beam, (height > 20.0).astype(float))

    def test_skyline_across_north_and_trees_by_month(self):
        site = Site(
            skyline=({"bearing_deg": 350.0, "altitude_deg": 10.0}, {"bearing_deg": 10.0, "altitude_deg": 30.0}),
            trees=(
                {
                    "from_deg": 340.0,
                    "to_deg": 20.0,
                    "altitude_deg": 60.0,
                    "in_leaf": 0.2,
                    "bare": 0.5,
                    "leaf_months": [False] * 6 + [True] * 6,
                },
            ),
        )
        north = np.zeros(3)
        share = lets_through(site, north, np.array([19.0, 21.0, 21.0]), np.array([0, 0, 11]))
        np.testing.assert_allclose(share, [0.0, 0.5, 0.2])
        self.assertEqual(lets_through(site, np.array([180.0]), np.array([35.0]), np.array([0]))[0], 1.0)

    def test_overhang_blocks_the_high_sun_only(self):
        sun = sun_year(clear_year())
        plane = Plane(tilt_deg=90, overhang={"fitted": True, "depth_m": 1.0, "gap_m": 0.2})
        share = overhang_beam(sun, plane)
        june, december = 24 * 171 + 12, 24 * 354 + 12
        self.assertLess(share[june], 0.3)
        self.assertGreater(share[december], share[june])
        # by hand: a vertical wall, shadow = depth tan(profile) - gap
        profile = (
            sun.cos_zenith[december]
            / np.sqrt(1 - sun.cos_zenith[december] ** 2)
            / np.cos(np.radians(sun.azimuth_deg[december] - 180))
        )
        self.assertAlmostEqual(share[december], 1 - min(max((profile - 0.2) / 2.0, 0), 1), places=9)

    def test_rows_shade_each_other_in_winter(self):
        sun = sun_year(clear_year())
        close = rows_beam(sun, Plane(tilt_deg=45, rows={"fitted": True, "spacing_m": 2.5}))
        wide = rows_beam(sun, Plane(tilt_deg=45, rows={"fitted": True, "spacing_m": 8}))
        noon = 24 * 354 + 12
        self.assertLess(close[noon], wide[noon])
        self.assertEqual(close[24 * 171 + 12], 1.0)

    def test_shading_reaches_the_year(self):
        made = case_design().model_dump(mode="json")
        free = simulate(parse(made), tmy3())
        made["site"]["skyline"] = [{"bearing_deg": 180.0, "altitude_deg": 35.0}]
        shaded = simulate(parse(made), tmy3())
        self.assertLess(shaded.total(acc.SUN_BEAM), 0.75 * free.total(acc.SUN_BEAM))
        self.assertEqual(shaded.hours_closed, 8760)


class MirrorTest(TestCase):
    def test_a_wide_level_mirror_before_a_wall(self):
        """Sun square ahead: a vertical wall before a wide level mirror receives DNI sin(altitude) cos(...)
        on as much of its height as the mirror throws; by the law of reflection height = depth tan(altitude)."""
        sun = sun_year(clear_year())
        hour = 24 * 79 + 12
        plane = Plane(
            tilt_deg=90,
            slope_m=10,
            mirror={"fitted": True, "width_m": 200, "depth_m": 1, "gap_m": 0, "reflectance": 0.9, "soiling": 0},
        )
        thrown, _lit = mirror_beam(sun, plane, 200.0)
        share = thrown[0].share[hour]
        self.assertAlmostEqual(share, 0.9 * sun.cos_zenith[hour] * 1.0 / 10.0, delta=0.02 * share)

    def test_it_adds_sun_and_the_books_close(self):
        made = case_design().model_dump(mode="json")
        plain = simulate(parse(made), tmy3())
        made["plane"]["mirror"] = {"fitted": True, "width_m": 4}
        book = simulate(parse(made), tmy3())
        self.assertGreater(book.total(acc.SUN_MIRROR), 0.015 * book.total(acc.SUN_BEAM))
        self.assertGreater(book.total(acc.INTO_STORE), plain.total(acc.INTO_STORE))
        self.assertEqual(book.hours_closed, 8760)


class Tubes(TestCase):
    def test_projected_angles_recombine(self):
        """tan² of the angle of incidence is the sum of the squares of its projections' tangents."""
        sun = sun_year(clear_year())
        across, along = biaxial_angles(sun.cos_zenith, sun.azimuth_deg, 40.0, 200.0)
        from heat.sun.plane import incidence_cosine

        for hour in (24 * 100 + 10, 24 * 200 + 14, 24 * 300 + 12):
            cos_i = incidence_cosine(
                sun.cos_zenith[hour], np.radians(sun.azimuth_deg[hour]), np.radians(40.0), np.radians(200.0)
            )
            tangents = np.tan(np.radians(across[hour])) ** 2 + np.tan(np.radians(along[hour])) ** 2
            self.assertAlmostEqual(np.tan(np.arccos(cos_i)) ** 2, tangents, places=9)

    def test_tables_and_products(self):
        table = (1, 1, 1, 0.98, 0.95, 0.9, 0.8, 0.6, 0.3, 0)
        np.testing.assert_allclose(table_modifier(np.cos(np.radians([0, 45, 90])), table), [1, 0.925, 0], atol=1e-9)
        self.assertAlmostEqual(float(biaxial_modifier(np.array(60.0), np.array(50.0), table, table)), 0.72)
        self.assertAlmostEqual(hemispherical_table(lambda a, b: np.ones_like(a)), 1.0)

    def test_direction_of_the_tubes_matters(self):
        made = case_design().model_dump(mode="json")
        made["system"]["collector"] |= {"iam": "biaxial"}
        up = simulate(parse(made), tmy3()).total(acc.ABSORBED)
        made["system"]["collector"]["tubes"] = "across"
        self.assertGreater(abs(simulate(parse(made), tmy3()).total(acc.ABSORBED) / up - 1), 0.005)

    def test_a_narrow_trough_takes_little_of_the_sky(self):
        made, year = case_design().model_dump(mode="json"), clear_year()
        dull = replace(year, dni_w_m2=0 * year.dni_w_m2, ghi_w_m2=year.dhi_w_m2)
        taken = []
        for acceptance in (10, 60):
            made["system"]["collector"] |= {"trough": True, "acceptance_deg": acceptance}
            taken.append(simulate(parse(made), dull).total(acc.ABSORBED))
        self.assertAlmostEqual(taken[0] / taken[1], np.sin(np.radians(10)) / np.sin(np.radians(60)), places=6)
