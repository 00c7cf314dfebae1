"""Paths, planes and horizons of a survey; tables and measured loads; the place's clock; files written and read
again."""

import itertools
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from heat.common.tables import guess_layout, number_of
from heat.demand.measured import LoadMap, read_load
from heat.design import Design, parse
from heat.design.place import Obstacle, Plane, Site, SurveyedPlane
from heat.errors import InputError, WeatherFileError
from heat.sun.magnetic import true_bearing_deg
from heat.sun.paths import DAY_21, declination_deg, path, sunrise_hour
from heat.sun.plane import tilted_irradiance
from heat.sun.shade import lets_through, sky_view_fraction
from heat.sun.site import sun_of
from heat.sun.survey import best_orientation, collectors_that_fit, plane_sun_account, shaded_months, solar_hours
from heat.tests.samples import tmy3
from heat.weather.place import ground_m, standard_offset_h
from heat.weather.readers import read_weather
from heat.weather.writers import csv_text, epw_text
from heat.weather.year import monthly_sums, sun_year

EVEN = (1.0,) * 24


class Paths(TestCase):
    def test_noon_and_sunrise_by_hand(self):
        """46° N on 21 June: noon at 90 - 46 + 23.45 due south; day length by eq. 1.6.11 at 45° N and -23.45°."""
        bearing, altitude = path(46.0, declination_deg(172), np.array([12.0]))
        self.assertAlmostEqual(float(altitude[0]), 67.45, places=2)
        self.assertAlmostEqual(float(bearing[0]), 180.0)
        self.assertAlmostEqual(2 * (12 - sunrise_hour(45.0, -23.45)), 8.57, places=2)
        self.assertEqual(sunrise_hour(66.9, 23.45), 0.0)

    def test_south_of_the_equator_the_noon_sun_is_north(self):
        bearing, altitude = path(-42.0, declination_deg(355), np.array([12.0, 9.0]))
        self.assertAlmostEqual(float(altitude[0]), 90 - 42 + 23.45, places=2)
        self.assertAlmostEqual(float(np.cos(np.radians(bearing[0]))), 1.0)
        self.assertLess(float(bearing[1]), 180.0)  # the morning is east everywhere

    def test_paths_agree_with_the_almanac_of_the_year(self):
        """Against the year's own positions (Reda & Andreas) at solar hours of the 21sts, within a degree."""
        sun = sun_year(tmy3())
        hours = solar_hours(sun)
        for day in DAY_21:
            at = slice(24 * (day - 1) + 9, 24 * (day - 1) + 15)
            _, altitude = path(tmy3().latitude_deg, declination_deg(day), hours[at])
            observed = np.degrees(np.arcsin(sun.cos_zenith[at]))
            np.testing.assert_allclose(altitude, observed, atol=1.2)


class Horizon(TestCase):
    SITE = Site(
        latitude_deg=tmy3().latitude_deg,
        longitude_deg=tmy3().longitude_deg,
        skyline=(
            {"bearing_deg": 90, "altitude_deg": 5},
            {"bearing_deg": 140, "altitude_deg": 32},
            {"bearing_deg": 215, "altitude_deg": 12},
            {"bearing_deg": 270, "altitude_deg": 25},
        ),
    )

    def test_share_lost_is_an_independent_sum_over_hours_and_sky(self):
        """Beam: summed hour by hour with the skyline interpolated by hand. Sky: 200,000 random rays, even sky."""
        plane = Plane(tilt_deg=35, azimuth_deg=170)
        design = Design(site=self.SITE, plane=plane)
        sun = sun_of(design, tmy3())
        account = plane_sun_account(tmy3(), sun, design)
        whole = tilted_irradiance(tmy3(), sun, tilt_deg=35, azimuth_deg=170)
        points = [(90.0, 5.0), (140.0, 32.0), (215.0, 12.0), (270.0, 25.0), (450.0, 5.0)]

        def edge(bearing):
            bearing = bearing % 360.0 + (360.0 if bearing % 360.0 < 90.0 else 0.0)
            for (a, low), (b, high) in itertools.pairwise(points):
                if a <= bearing <= b:
                    return low + (high - low) * (bearing - a) / (b - a)
            raise AssertionError(bearing)

        lost = np.zeros(8760)
        for h in np.flatnonzero(whole.beam_w_m2 > 0):
            if np.degrees(np.arcsin(sun.cos_zenith[h])) <= edge(float(sun.azimuth_deg[h])):
                lost[h] = whole.beam_w_m2[h]
        rng = np.random.default_rng(3)
        up = rng.uniform(0.0, 1.0, 200_000)  # even over the sky's solid angle
        bearing = rng.uniform(0.0, 360.0, up.size)
        flat = np.sqrt(1 - up**2)
        tilt = np.radians(35)
        weight = np.maximum(up * np.cos(tilt) + flat * np.sin(tilt) * np.cos(np.radians(bearing - 170)), 0)
        hidden = np.degrees(np.arcsin(up)) <= np.array([edge(b) for b in bearing])
        share = float(weight[hidden].sum() / weight.sum())
        expected = monthly_sums(lost + share * whole.sky_w_m2) / 1000.0
        np.testing.assert_allclose(account.to_skyline, expected, rtol=0.01, atol=0.05)
        self.assertAlmostEqual(1 - sky_view_fraction(self.SITE, plane), share, delta=0.003)
        self.assertGreater(account.hours_lost, 200)

    def test_account_closes_and_parts_are_named(self):
        site = self.SITE.model_copy(
            update={"trees": Site(trees=({"from_deg": 150, "to_deg": 170, "altitude_deg": 50},)).trees}
        )
        design = parse({"site": site.model_dump(), "plane": {"overhang": {"fitted": True}}})
        got = plane_sun_account(tmy3(), sun_of(design, tmy3()), design)
        np.testing.assert_allclose(got.left + got.to_skyline + got.to_trees + got.to_edge, got.open_kwh_m2)
        self.assertTrue((got.to_trees > 0).all() and (got.to_edge >= -1e-9).all() and got.to_edge.sum() > 0)
        self.assertTrue((got.window_lost <= got.window_open).all())
        self.assertTrue((got.window_open < got.open_kwh_m2).all())

    def test_nine_to_fifteen(self):
        self.assertEqual(shaded_months(Site()), ())
        wall = Site(latitude_deg=46, skyline=({"bearing_deg": 180, "altitude_deg": 21},))
        self.assertEqual(shaded_months(wall), (0, 1, 9, 10, 11))  # 20.0° at 9 h on 21 February
        bare = Site(latitude_deg=46, trees=({"from_deg": 175, "to_deg": 185, "altitude_deg": 80, "bare": 1.0},))
        self.assertEqual(shaded_months(bare), tuple(range(3, 10)))

    def test_an_obstacle_hides_its_own_angle(self):
        """5 m high, 10 m away, 10 m wide: 26.57° high amid, 26.57° to each side; across north too."""
        wall = Obstacle(bearing_deg=355, distance_m=10, height_m=5, width_m=10)
        self.assertAlmostEqual(wall.half_deg, 26.565, places=2)
        self.assertAlmostEqual(wall.altitude_deg(), 26.565, places=2)
        site = Site(obstacles=(wall,))
        month = np.zeros(4, dtype=np.int64)
        got = lets_through(site, np.array([355.0, 10.0, 25.0, 355.0]), np.array([26.0, 20.0, 5.0, 27.0]), month)
        self.assertEqual(got.tolist(), [0.0, 0.0, 1.0, 1.0])


class Planes(TestCase):
    def test_best_way_to_face(self):
        tilt, azimuth, most = best_orientation(tmy3(), sun_year(tmy3()), 0.2, "perez")
        self.assertTrue(30 <= tilt <= 42 and 160 <= azimuth <= 200, (tilt, azimuth))
        for t, a in ((tilt + 6, azimuth), (tilt - 6, azimuth), (tilt, azimuth + 15), (tilt, azimuth - 15)):
            other = tilted_irradiance(tmy3(), sun_year(tmy3()), tilt_deg=t, azimuth_deg=a).total_w_m2().sum()
            self.assertGreater(most, other / 1000.0)

    def test_how_many_fit(self):
        roof = SurveyedPlane(width_m=6.0, height_m=3.0)
        self.assertEqual(collectors_that_fit(roof, 2.0, 2.3), (5, "upright"))
        low = SurveyedPlane(width_m=6.2, height_m=1.3)
        self.assertEqual(collectors_that_fit(low, 2.0, 2.3), (3, "across"))

    def test_two_planes_of_one_key_are_refused(self):
        with self.assertRaises(InputError):
            parse({"site": {"planes": [{"key": "P1"}, {"key": "P1"}]}})

    def test_a_needle_east_of_north_reads_low(self):
        self.assertEqual(true_bearing_deg(358.0, 5.0), 3.0)


class Place(TestCase):
    def test_clock_and_height(self):
        self.assertEqual(standard_offset_h(46.4, -11.6), -1.0)  # open sea
        self.assertEqual(standard_offset_h(45.0, 8.0), 1.0)
        self.assertEqual(standard_offset_h(-33.4, -70.6), -4.0)  # standard time, though summer is around New Year
        self.assertEqual(ground_m(46.4, -11.6), 0.0)
        self.assertTrue(50 < ground_m(45.0, 8.0) < 400)

    def test_what_is_written_reads_back(self):
        for text, name in ((epw_text(tmy3()), "out.epw"),):
            again = read_weather(name, text.encode())
            for column in ("ghi_w_m2", "dni_w_m2", "air_c", "wind_m_s"):
                np.testing.assert_allclose(getattr(again, column), getattr(tmy3(), column), atol=0.01)
        lines = csv_text(tmy3()).splitlines()
        self.assertEqual(len(lines), 8763)
        self.assertAlmostEqual(sum(float(line.split(",")[1]) for line in lines[3:]), tmy3().ghi_w_m2.sum(), delta=20)


class MeasuredLoads(TestCase):
    @staticmethod
    def map_of(text, **change):
        found = guess_layout("load.csv", text)
        return LoadMap(
            separator=found.separator,
            decimal=found.decimal,
            heading_line=found.heading_line,
            stamp=found.stamp,
            stamp_format=found.stamp_format,
            value=found.numeric[0],
            **change,
        )

    def test_a_spreadsheet_with_semicolons_and_decimal_commas(self):
        days = [f"{1 + d % 28:02d}.{1 + d // 28:02d}.2023;{100 + d},5" for d in range(56)]
        text = "Zählerstand;\nDatum;Verbrauch (L)\n" + "\n".join(days)
        layout = self.map_of(text)
        self.assertEqual((layout.separator, layout.decimal, layout.heading_line, layout.value), (";", ",", 2, 1))
        load = read_load("load.csv", text, layout, EVEN)
        self.assertEqual((load.kind, load.days), ("L", 56))
        self.assertAlmostEqual(load.values[:24].sum(), 100.5)
        self.assertIn("309 days", " ".join(n.text for n in load.notes))

    def test_hours_in_kilowatts_with_gaps_negatives_and_a_leap_day(self):
        import pandas as pd

        stamps = pd.date_range("2024-01-01", periods=8784, freq="h")
        rows = [f"{s:%Y-%m-%d %H:%M},{2.0:.1f}" for s in stamps]
        rows[10] = rows[10].split(",")[0] + ","
        rows[20] = rows[20].split(",")[0] + ",-3"
        del rows[100:140]
        text = "time,load\n" + "\n".join(rows)
        load = read_load("l.csv", text, self.map_of(text, unit="kW"), EVEN)
        self.assertEqual((load.kind, load.values.size), ("kWh", 8760))
        self.assertAlmostEqual(load.values.sum(), 2.0 * 8760 - 2.0, places=3)
        message = " ".join(n.text for n in load.notes)
        for words in ("29 February", "below zero", "bridged", "hour of the week", "without a number"):
            self.assertIn(words, message)
        self.assertEqual(next(n.line for n in load.notes if "without a number" in n.text), 12)

    def test_quarter_hours_add_up(self):
        import pandas as pd

        stamps = pd.date_range("2023-06-01", periods=96 * 8, freq="15min")
        text = "t,l\n" + "\n".join(f"{s:%d/%m/%Y %H:%M},1.5" for s in stamps)
        load = read_load("l.csv", text, self.map_of(text), EVEN)
        self.assertAlmostEqual(load.values[24 * 151 + 5], 6.0)

    def test_refusals_state_where(self):
        with self.assertRaisesRegex(WeatherFileError, "no line of numbers"):
            guess_layout("a.csv", "just words\nand more words")
        good = "d,l\n" + "\n".join(f"2023-03-{d:02d},5" for d in range(1, 6))
        with self.assertRaisesRegex(WeatherFileError, "5 days are too few"):
            read_load("a.csv", good, self.map_of(good), EVEN)
        zero = "d,l\n" + "\n".join(f"2023-03-{d:02d},0" for d in range(1, 11))
        with self.assertRaisesRegex(WeatherFileError, "every value is zero"):
            read_load("a.csv", zero, self.map_of(zero), EVEN)
        with self.assertRaisesRegex(WeatherFileError, "line 2.*no column 9"):
            read_load("a.csv", good, self.map_of(good).model_copy(update={"value": 8}), EVEN)
        with self.assertRaisesRegex(WeatherFileError, "12 rows without stamps"):
            read_load("a.csv", "\n".join(["3"] * 12), LoadMap(heading_line=0, stamp=-1, value=0), EVEN)


class HorizonLaws(TestCase):
    @settings(deadline=None, max_examples=12)
    @given(
        heights=st.lists(st.floats(0, 40), min_size=3, max_size=6),
        raised=st.floats(1, 30),
        tilt=st.floats(0, 90),
        azimuth=st.floats(0, 359),
    )
    def test_nothing_put_up_brings_sun(self, heights, raised, tilt, azimuth):
        def left(points, **more):
            design = parse(
                {
                    "site": {"latitude_deg": 45, "skyline": points, **more},
                    "plane": {"tilt_deg": tilt, "azimuth_deg": azimuth},
                }
            )
            got = plane_sun_account(tmy3(), sun_of(design, tmy3()), design)
            self.assertTrue((got.left >= -1e-9).all() and (got.lost >= -1e-9).all())
            return got

        step = 360.0 / len(heights)
        points = [{"bearing_deg": i * step, "altitude_deg": h} for i, h in enumerate(heights)]
        higher = [{**p, "altitude_deg": min(p["altitude_deg"] + raised, 89)} for p in points]
        base = left(points)
        self.assertTrue((left(higher).left <= base.left + 1e-9).all())
        tree = {"from_deg": 150, "to_deg": 220, "altitude_deg": 60}
        thin, thick = (left(points, trees=[{**tree, "in_leaf": s, "bare": s}]).left for s in (0.8, 0.3))
        self.assertTrue((thick <= thin + 1e-9).all() and (thin <= base.left + 1e-9).all())
        near, far = (
            left(points, obstacles=[{"bearing_deg": 180, "distance_m": d, "height_m": 6, "width_m": 9}]).left
            for d in (5, 30)
        )
        self.assertTrue((near <= far + 1e-9).all() and (far <= base.left + 1e-9).all())


class Guessing(TestCase):
    def test_layouts_of_many_hands(self):
        cases = {
            "a;b\n01.02.2023;1,5\n02.02.2023;2,5": (";", ",", 1, 0, (1,)),
            "a,b\n2023-02-01,1.5\n2023-02-02,2.5": (",", ".", 1, 0, (1,)),
            "2023-02-01 00:00\t1.5\t7\n2023-02-01 01:00\t2.5\t8": ("tab", ".", 0, 0, (1, 2)),
            "meter\nday;L;note\n1/2/2023;100;ok\n2/2/2023;110;": (";", ".", 2, 0, (1,)),
            "kWh\n1.5\n2.5\n3.5": (";", ".", 1, -1, (0,)),
        }
        for text, expected in cases.items():
            with self.subTest(text=text):
                got = guess_layout("t.csv", text)
                self.assertEqual((got.separator, got.decimal, got.heading_line, got.stamp, got.numeric), expected)

    def test_numbers_of_many_hands(self):
        for text, decimal, value in (
            ("1.234,5", ",", 1234.5),
            ("1,234.5", ".", 1234.5),
            ("1 234,5", ",", 1234.5),
            ("-3", ".", -3.0),
        ):
            self.assertEqual(number_of(text, decimal), value)
        self.assertTrue(np.isnan(number_of("n/a", ".")))
