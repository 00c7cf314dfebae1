"""Any table by a map, split sun, twelve means, sky, ground and compass."""

import json
from dataclasses import replace
from pathlib import Path
from unittest import TestCase

import numpy as np
import pandas as pd
import pvlib

from heat.common.compiled import PACKAGE
from heat.errors import WeatherFileError
from heat.simulation.year import simulate
from heat.store.pool import saturation_kpa
from heat.sun.magnetic import declination_deg, true_bearing_deg
from heat.tests.samples import case_design, pvgis, raw, tmy3
from heat.weather.columns import ColumnMap
from heat.weather.readers import read_weather
from heat.weather.sky import dew_point_c, ground_temperature_c, sky_temperature_c
from heat.weather.split import split_global
from heat.weather.synthetic import read_means, spread_of_years
from heat.weather.year import monthly_means, monthly_sums, sun_year

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
        frame = pd.DataFrame(
            {"Zeit": stamps.strftime("%d.%m.%Y %H:%M"), "G": year.ghi_w_m2 / 1000, "T": year.air_c * 1.8 + 32}
        )
        return frame.to_csv(index=False, sep=separator, decimal=decimal)

    def mapping(self, **changes):
        plan = {
            "separator": ";",
            "decimal": ",",
            "stamp": "Zeit",
            "stamp_format": "%d.%m.%Y %H:%M",
            "columns": {"ghi": {"column": "G", "unit": "kWh/m2"}, "temp_air": {"column": 3, "unit": "degF"}},
            "latitude_deg": 36.1,
            "longitude_deg": -79.95,
            "elevation_m": 273,
            "utc_offset_h": -5,
        }
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
            raw = json.dumps(document | bad).encode()
            with self.assertRaisesRegex(WeatherFileError, words):
                read_weather("m.json", raw)

    def test_sky_and_ground(self):
        measured = sky_temperature_c(pvgis())
        simulated = sky_temperature_c(replace(pvgis(), infrared_w_m2=None))
        self.assertLess(abs(measured.mean() - simulated.mean()), 4.0)
        self.assertAlmostEqual(float(dew_point_c(np.array(20.0), np.array(50.0))), 9.27, delta=0.05)
        deep, shallow = (ground_temperature_c(tmy3().air_c, z) for z in (3.0, 0.1))
        self.assertLess(np.ptp(deep), 0.5 * np.ptp(shallow))
        self.assertAlmostEqual(deep.mean(), tmy3().air_c.mean(), delta=0.1)
        self.assertAlmostEqual(float(saturation_kpa(20.0)), 2.339, delta=0.005)  # steam tables

    def test_true_bearing(self):
        self.assertAlmostEqual(true_bearing_deg(355.0, 12.5), 7.5)
        self.assertNotEqual(declination_deg(46.4, -11.6, year=2026.0), declination_deg(46.4, -11.6, year=2021.0))
