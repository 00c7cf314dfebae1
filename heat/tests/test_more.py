"""Weather by map and split, shade, mirror, tubes, builder, sweep, command line."""

import io
import json
import tempfile
from concurrent.futures import ProcessPoolExecutor
from contextlib import redirect_stderr, redirect_stdout
from dataclasses import replace
from pathlib import Path
from unittest import TestCase

import numpy as np
import pandas as pd
import pvlib
from fastparquet import ParquetFile

from heat import accounts as acc
from heat.cli import main
from heat.collector.builder import Build, Cover, band_fraction, rate, stagnation_c
from heat.collector.catalogue import collector, entries, on_area
from heat.collector.incidence import biaxial_angles, biaxial_modifier, hemispherical_table, table_modifier
from heat.compiled import PACKAGE
from heat.demand.profile import exponential_mean, heating_watts, reset_temperatures, spread_series, tap_litres
from heat.design import parse
from heat.design.needs import Demand, Heating
from heat.design.place import Plane, Site
from heat.errors import WeatherFileError
from heat.loop.circulation import darcy_factor
from heat.loop.plate import counterflow_effectiveness
from heat.store.pool import saturation_kpa
from heat.sun.magnetic import declination_deg, true_bearing_deg
from heat.sun.mirror import mirror_share
from heat.sun.position import sun_year
from heat.sun.shade import lets_through, overhang_beam, rows_beam, shade_on
from heat.sweep import grid, sweep, usual_figures, varied
from heat.tests.samples import case_design, clear_year, pvgis, raw, tmy3
from heat.weather.columns import ColumnMap
from heat.weather.readers import read_weather
from heat.weather.sky import dew_point_c, ground_temperature_c, sky_temperature_c
from heat.weather.split import split_global
from heat.weather.synthetic import read_means, spread_of_years
from heat.weather.year import monthly_means, monthly_sums
from heat.year import simulate

EXAMPLES = PACKAGE.parent / "docs" / "examples"


class MoreWeather(TestCase):
    def test_tm2_from_the_library(self):
        path = Path(pvlib.__file__).parent / "data" / "12839.tm2"
        year = read_weather(path.name, path.read_bytes())
        self.assertEqual((year.kind, year.utc_offset_h), ("TM2", -5.0))
        self.assertAlmostEqual(year.ghi_w_m2.sum() / 1000, 1792.6, delta=0.5)
        self.assertAlmostEqual(year.latitude_deg, 25.8, places=2)

    def test_three_formats_of_one_year_agree(self):
        csv = pvgis()
        other = read_weather("x.json", raw("pvgis_tmy_45N_8E.json"))
        np.testing.assert_allclose(monthly_sums(csv.ghi_w_m2), monthly_sums(other.ghi_w_m2), rtol=1e-6)
        np.testing.assert_allclose(csv.air_c, other.air_c)

    def table(self, separator=";", decimal=","):
        stamps = pd.date_range("2023-01-01 00:00", periods=8760, freq="h")
        year = tmy3()
        frame = pd.DataFrame({"Zeit": stamps.strftime("%d.%m.%Y %H:%M"), "G": year.ghi_w_m2 / 1000,
                              "T": year.air_c * 1.8 + 32})  # fmt: skip
        return frame.to_csv(index=False, sep=separator, decimal=decimal)

    def mapping(self, **changes):
        plan = {"separator": ";", "decimal": ",", "stamp": "Zeit", "stamp_format": "%d.%m.%Y %H:%M",
                "columns": {"ghi": {"column": "G", "unit": "kWh/m2"}, "temp_air": {"column": 3, "unit": "degF"}},
                "latitude_deg": 36.1, "longitude_deg": -79.95, "elevation_m": 273, "utc_offset_h": -5}  # fmt: skip
        return ColumnMap.model_validate(plan | changes)

    def test_any_table_by_a_map_with_the_sun_split(self):
        year = read_weather("mine.csv", self.table().encode("latin-1"), self.mapping())
        np.testing.assert_allclose(year.ghi_w_m2, tmy3().ghi_w_m2, atol=1e-6)
        np.testing.assert_allclose(year.air_c, tmy3().air_c, atol=1e-9)
        self.assertTrue(any("Erbs" in note.text for note in year.notes))
        self.assertAlmostEqual(year.dni_w_m2.sum() / tmy3().dni_w_m2.sum(), 1.0, delta=0.1)
        up = np.maximum(sun_year(year).cos_zenith, 0.0)
        lit = up > 0.06
        np.testing.assert_allclose((year.dhi_w_m2 + year.dni_w_m2 * up)[lit], year.ghi_w_m2[lit], atol=1e-6)

    def test_bad_maps_and_tables_are_named(self):
        for changes, words in (
            ({"columns": {"ghi": {"column": "X", "unit": "W/m2"}}}, "no column “X”; there are Zeit, G, T"),
            ({"columns": {"ghi": {"column": 9, "unit": "W/m2"}}}, "no column 9; the table has 3"),
            ({"columns": {"snow": {"column": "G", "unit": "W/m2"}}}, "the map names “snow”"),
            ({"stamp_format": "%Y"}, "line 2.*this stamp cannot be read"),
            ({"columns": {"ghi": {"column": "G", "unit": "kWh/m2"}}}, "temp_air.*missing"),
        ):
            with self.subTest(words=words), self.assertRaisesRegex(WeatherFileError, words):
                read_weather("mine.csv", self.table().encode(), self.mapping(**changes))
        short = "\n".join(self.table().splitlines()[:100])
        with self.assertRaisesRegex(WeatherFileError, "8760"):
            read_weather("mine.csv", short.encode(), self.mapping(stamp=None))

    def test_one_known_component_gives_the_other(self):
        year, sun = tmy3(), sun_year(tmy3())
        dni, dhi = split_global(year, sun, known=("dni",))
        np.testing.assert_array_equal(dni, year.dni_w_m2)
        self.assertAlmostEqual(dhi.sum() / year.dhi_w_m2.sum(), 1.0, delta=0.05)

    def test_twelve_means_and_the_spread_of_seeds(self):
        document = json.loads((EXAMPLES / "weather" / "merrow_coast.json").read_text())
        years = [read_means("x", document, seed) for seed in (1, 2, 3)]
        for year in years:
            np.testing.assert_allclose(monthly_means(year.air_c), document["air_c"], atol=1e-6)
        figures = [simulate(case_design(), year).fractions.at_tap for year in years]
        mean, spread = spread_of_years(figures)
        self.assertTrue(0.5 < mean < 1.0)
        self.assertTrue(0.0 < spread < 0.05, spread)
        for bad, words in (({"air_c": [1] * 11}, "twelve"), ({"ghi_kwh_m2_day": None}, "cannot be used")):
            text = json.dumps(document | bad).encode()
            with self.assertRaisesRegex(WeatherFileError, words):
                read_weather("m.json", text)

    def test_sky_and_ground(self):
        measured = sky_temperature_c(pvgis())
        reckoned = sky_temperature_c(replace(pvgis(), infrared_w_m2=None))
        self.assertLess(abs(measured.mean() - reckoned.mean()), 4.0)
        self.assertAlmostEqual(float(dew_point_c(np.array(20.0), np.array(50.0))), 9.27, delta=0.05)
        deep, shallow = (ground_temperature_c(tmy3().air_c, z) for z in (3.0, 0.1))
        self.assertLess(np.ptp(deep), 0.5 * np.ptp(shallow))
        self.assertAlmostEqual(deep.mean(), tmy3().air_c.mean(), delta=0.1)
        self.assertAlmostEqual(float(saturation_kpa(20.0)), 2.339, delta=0.005)  # steam tables

    def test_true_bearing(self):
        self.assertAlmostEqual(true_bearing_deg(355.0, 12.5), 7.5)
        self.assertNotEqual(declination_deg(46.4, -11.6, year=2026.0), declination_deg(46.4, -11.6, year=2021.0))


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
            trees=({"from_deg": 340.0, "to_deg": 20.0, "altitude_deg": 60.0, "transmittance": [0.5] * 6 + [0.2] * 6},),
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
        profile = sun.cos_zenith[december] / np.sqrt(1 - sun.cos_zenith[december] ** 2) / np.cos(
            np.radians(sun.azimuth_deg[december] - 180))  # fmt: skip
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
        plane = Plane(tilt_deg=90, slope_m=10, mirror={"fitted": True, "width_m": 200, "depth_m": 1, "gap_m": 0,
                      "reflectance": 0.9, "soiling": 0})  # fmt: skip
        share = mirror_share(sun, plane, 200.0)[hour]
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
            cos_i = incidence_cosine(sun.cos_zenith[hour], np.radians(sun.azimuth_deg[hour]), np.radians(40.0),
                                     np.radians(200.0))  # fmt: skip
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

    def test_a_trough_takes_beam_only(self):
        made = case_design().model_dump(mode="json")
        made["system"]["collector"] |= {"trough": True, "acceptance_deg": 60}
        book = simulate(parse(made), tmy3())
        self.assertLess(book.total(acc.ABSORBED), 0.78 * book.total(acc.SUN_BEAM))


class Builder(TestCase):
    def test_selective_coating_and_second_cover_lower_the_loss(self):
        black, selective = rate(Build()), rate(Build(emittance=0.05))
        double = rate(Build(covers=(Cover(), Cover())))
        self.assertTrue(selective.a1_w_m2k < 0.75 * black.a1_w_m2k)
        self.assertTrue(double.a1_w_m2k < 0.75 * black.a1_w_m2k and double.eta0 < black.eta0)
        self.assertTrue(110 < black.stagnation_c < 150 and 170 < selective.stagnation_c < 210)

    def test_fins_and_flow(self):
        self.assertLess(rate(Build(plate_mm=0.05)).efficiency_factor, rate(Build(plate_mm=1.0)).efficiency_factor)
        self.assertLess(rate(Build(tube_spacing_mm=300)).eta0, rate(Build()).eta0)
        fast = rate(Build(flow_kg_h=400))
        self.assertTrue(rate(Build()).removal_factor < fast.removal_factor < fast.efficiency_factor)

    def test_serpentine_lies_near_the_straight_tube_of_the_same_film(self):
        from heat.collector.builder import efficiency_factor, removal_factor, serpentine_removal

        build = Build(layout_serpentine=True)
        straight = removal_factor(build, 6.0, efficiency_factor(build, 6.0, 1500.0))
        self.assertAlmostEqual(serpentine_removal(build, 6.0, 1500.0) / straight, 1.0, delta=0.05)

    def test_black_body_bands(self):
        """25.0 % of a black body's radiation lies below the wavelength of its peak (Wien)."""
        self.assertAlmostEqual(band_fraction(2897.77 / 5777.0, 5777.0 - 273.15), 0.2501, delta=0.0002)
        self.assertAlmostEqual(band_fraction(4000.0 / 1000.0, 1000.0 - 273.15), 0.4809, delta=0.0005)

    def test_semi_grey_surface_stagnates_hotter_than_black_paint(self):
        semi = Build(cutoff_um=2.5, absorptance_long=0.08)
        self.assertGreater(stagnation_c(semi), stagnation_c(Build()) + 30)

    def test_a_rated_build_agrees_with_its_own_balance(self):
        from heat.collector.builder import plate_balance

        build = Build()
        made = rate(build)
        for excess in (10.0, 40.0, 65.0):
            gain = plate_balance(build, build.air_c + excess, 800.0)[0]
            fitted = made.eta0 * 800 - made.a1_w_m2k * excess - made.a2_w_m2k2 * excess**2
            self.assertAlmostEqual(fitted, gain, delta=4.0)

    def test_catalogue_entries_are_generic_and_in_range(self):
        self.assertGreaterEqual(len(entries()), 12)
        for key, entry in entries().items():
            self.assertIn("generic", entry["source"])
            self.assertGreater(collector(key, 3).total_area_m2, 3.0)
        eta0, a1, a2 = on_area(0.75, 4.0, 0.01, 2.0, 2.5)
        self.assertAlmostEqual(eta0 * 2.5, 0.75 * 2.0)
        self.assertAlmostEqual(a1 * 2.5 + a2 * 2.5, 8.02)


class Correlations(TestCase):
    def test_exchanger_and_friction(self):
        """Counter-flow NTU 2, ratio 0.5: 0.7746 by hand; NTU 1, ratio 1: 0.5."""
        self.assertAlmostEqual(counterflow_effectiveness(200.0, 100.0, 200.0), 0.7746, places=4)
        self.assertAlmostEqual(counterflow_effectiveness(100.0, 100.0, 100.0), 0.5)
        self.assertAlmostEqual(darcy_factor(1000.0), 0.064)
        self.assertAlmostEqual(darcy_factor(20000.0), 0.0266, places=4)

    def test_demand_by_week_month_and_holiday(self):
        demand = Demand(people=1, litres_per_person_day=100, weekend_factor=2.0, first_weekday=0,
                        month_factors=(0.5,) + (1.0,) * 11, holidays=((200, 206), (364, 2)))  # fmt: skip
        daily = tap_litres(demand).reshape(365, 24).sum(axis=1)
        self.assertEqual(daily[0], 0.0)  # a holiday over the turn of the year
        self.assertAlmostEqual(daily[2], 50.0)
        self.assertAlmostEqual(daily[5], 100.0)  # Saturday in January: half of double
        self.assertAlmostEqual(daily[40], 200.0)
        self.assertEqual(daily[199:206].sum(), 0.0)
        week = spread_series(tuple(float(h) for h in range(168)), first_weekday=2)
        self.assertEqual(week[0], 48.0)
        self.assertEqual(week.size, 8760)

    def test_rooms_follow_cold_smoothed_by_the_building(self):
        light, heavy = (Heating(fitted=True, storage_kwh_k=c) for c in (0.0, 40.0))
        watts = [heating_watts(h, tmy3(), 0) for h in (light, heavy)]
        self.assertGreater(watts[0].max(), watts[1].max())
        self.assertAlmostEqual(exponential_mean(np.full(8760, 7.0), 50.0)[10], 7.0)
        supply, back = reset_temperatures(light, watts[0])
        coldest = int(watts[0].argmax())
        self.assertGreater(supply[coldest], supply[4000])
        self.assertTrue((supply > back).all())


class Sweeps(TestCase):
    points = grid(system__store__volume_l=[200, 300, 400], plane__tilt_deg=[30, 50], system__coil__ua_w_k=[200.0, 2.0])

    def test_same_numbers_in_any_order_and_executor(self):
        threads = sweep(case_design(), tmy3(), self.points)
        backwards = sweep(case_design(), tmy3(), self.points[::-1], workers=1)[::-1]
        self.assertEqual([o.figures for o in threads], [o.figures for o in backwards])
        with ProcessPoolExecutor(1) as executor:
            processes = sweep(case_design(), tmy3(), self.points[:2], executor=executor)
        self.assertEqual([o.figures for o in processes], [o.figures for o in threads[:2]])
        document = varied(case_design().model_dump(mode="json"), self.points[2])
        self.assertEqual(threads[2].figures, usual_figures(simulate(parse(document), tmy3())))

    def test_refused_points_say_why_and_the_rest_goes_on(self):
        outcomes = sweep(case_design(), tmy3(), self.points)
        refused = [o for o in outcomes if o.refused]
        self.assertEqual(len(refused), 6)
        self.assertRegex(refused[0].refused, "system.coil.ua_w_k.*5 to 50000 W/K")
        self.assertEqual(len(outcomes), 12)

    def test_cancelled_and_taken_up_again(self):
        done, told = {}, []
        first = sweep(case_design(), tmy3(), self.points, workers=1, done=done, progress=told.append,
                      cancelled=lambda: len(done) >= 4)  # fmt: skip
        self.assertTrue(4 <= len(first) < 12)
        self.assertEqual(told, sorted(told))
        again = sweep(case_design(), tmy3(), self.points, done=done)
        self.assertEqual([o.index for o in again], list(range(12)))
        self.assertEqual(again[0].figures, sweep(case_design(), tmy3(), self.points[:1])[0].figures)


class CommandLine(TestCase):
    coast = str(EXAMPLES / "weather" / "merrow_coast.json")

    def run_it(self, *arguments):
        out, err = io.StringIO(), io.StringIO()
        with redirect_stdout(out), redirect_stderr(err):
            status = main(list(arguments))
        return status, out.getvalue(), err.getvalue()

    def test_prints_the_year_and_writes_hours_that_sum_to_it(self):
        with tempfile.TemporaryDirectory() as folder:
            for name, read in (("h.csv", pd.read_csv), ("h.parquet", lambda p: ParquetFile(p).to_pandas())):
                path = Path(folder) / name
                status, out, _err = self.run_it(
                    "simulate",
                    str(EXAMPLES / "pumped_coil.json"),
                    "--weather",
                    self.coast,
                    "--out",
                    str(path),
                    "--json",
                )
                self.assertEqual(status, 0)
                found = json.loads(out)
                table = read(path)
                self.assertEqual(len(table), 8760)
                self.assertAlmostEqual(
                    table["into_store_wh"].sum() / 1000, found["accounts_kwh"]["into_store"], delta=0.1
                )
        _status, out, _err = self.run_it("simulate", str(EXAMPLES / "pumped_coil.json"), "--weather", self.coast)
        self.assertIn("licensed trades", out)
        self.assertRegex(out, r"year .*8[0-9]\.\d %")

    def test_bad_input_is_told_without_a_traceback(self):
        with tempfile.TemporaryDirectory() as folder:

            def made(name, text):
                path = Path(folder) / name
                path.write_bytes(text.encode("latin-1"))
                return str(path)

            good = str(EXAMPLES / "pumped_coil.json")
            for design, weather, extra, words in (
                ("missing.json", self.coast, (), "missing.json: there is no such file"),
                (made("a.json", '{"plane": }'), self.coast, (), "a.json, line 1: not valid JSON"),
                (made("b.json", '{"plane": {"tilt_deg": 200}}'), self.coast, (), "plane.tilt_deg: 200.*0 to 90 deg"),
                (made("c.json", "[1]"), self.coast, (), "a design is an object"),
                (made("d.json", '{"version": 9}'), self.coast, (), "version 9"),
                (made("e.json", '{"plane": "é"}'), self.coast, (), "not text in UTF-8"),
                (good, made("w.csv", "hello"), (), "not a weather file we know"),
                (good, made("w.json", '{"kind": "monthly means", "air_c": }'), (), "line 1.*|not valid JSON"),
                (good, self.coast, ("--columns", made("m.json", '{"columns": 3}')), "columns"),
                (good, self.coast, ("--out", str(Path(folder) / "h.xls")), "written as .csv or .parquet"),
            ):
                status, _out, err = self.run_it("simulate", design, "--weather", weather, *extra)
                with self.subTest(words=words):
                    self.assertEqual(status, 2)
                    self.assertRegex(err, words)
                    self.assertNotIn("Traceback", err)
