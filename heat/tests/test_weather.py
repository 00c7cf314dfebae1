"""Reading and checking weather: what is taken, what is refused, and in which words."""

import json
from dataclasses import replace
from unittest import TestCase

import numpy as np

from heat.common.tables import LONGEST_LINE, MOST_COLUMNS, MOST_LINES, guess_layout
from heat.errors import InputError, WeatherFileError
from heat.tests.mangled import mangled
from heat.tests.samples import EXAMPLES, TMY3, clear_year, pvgis, raw, tmy3
from heat.weather.checks import check_clock, checked
from heat.weather.mains import mains_from_air, mains_from_months, mains_wave
from heat.weather.readers import read_weather
from heat.weather.synthetic import MonthlyMeans, clearness_mean, erbs_diffuse_share, synthetic_year
from heat.weather.year import monthly_means, monthly_sums, shifted, sun_year

EPW = "pvgis_tmy_45N_8E.epw"
CSV = "pvgis_tmy_45N_8E.csv"


def lines(name):
    return raw(name).decode().splitlines()


class Dark(TestCase):
    def test_a_month_without_sun_is_refused_in_words(self):
        means = MonthlyMeans(ghi_kwh_m2_day=(1.0,) * 12, air_c=(3.0,) * 12)
        place = {"longitude_deg": 0.0, "elevation_m": 0.0, "utc_offset_h": 0.0, "seed": 1, "name": "far north"}
        with self.assertRaisesRegex(InputError, "the sun rises in every month"):
            synthetic_year(means, latitude_deg=89.0, **place)


class Reading(TestCase):
    def test_three_formats(self):
        self.assertEqual((tmy3().kind, len(tmy3().air_c), tmy3().utc_offset_h), ("TMY3", 8760, -5))
        self.assertEqual((pvgis().kind, pvgis().latitude_deg, pvgis().elevation_m), ("PVGIS", 45.0, 250.0))
        epw = read_weather(EPW, raw(EPW))
        self.assertEqual((epw.kind, epw.longitude_deg), ("EPW", 8.0))
        self.assertAlmostEqual(epw.ghi_w_m2.sum(), pvgis().ghi_w_m2.sum(), delta=1.0)

    def test_pvgis_is_moved_to_local_time_and_states_so(self):
        self.assertEqual(pvgis().utc_offset_h, 1.0)
        self.assertAlmostEqual(pvgis().air_c[1], 2.04)
        self.assertIn("Stamps are UTC", pvgis().notes[0].text)
        self.assertFalse(check_clock(pvgis(), sun_year(pvgis())).off)

    def test_tmy3_hours_are_named_by_their_start(self):
        self.assertFalse(check_clock(tmy3(), sun_year(tmy3())).off)
        self.assertAlmostEqual(tmy3().ghi_w_m2.sum() / 1000, 1566.2, delta=0.05)


class Refusing(TestCase):
    def refused(self, name, text, pattern):
        data = text if isinstance(text, bytes) else "\n".join(text).encode()
        with self.assertRaisesRegex(WeatherFileError, pattern) as caught:
            checked(read_weather(name, data))
        return caught.exception

    def test_not_weather(self):
        self.refused("shopping.csv", [b"bread,milk".decode()], r"shopping\.csv, line 1: .*not a weather file.*EPW")
        self.refused("photo.epw", b"\x89PNG\r\n\x00\x00", "binary file")
        self.refused("empty.epw", b"", "the file is empty")

    def test_missing_hours_up_to_three_are_filled_and_listed(self):
        rows = lines(EPW)
        year = read_weather("gap.epw", "\n".join(rows[:500] + rows[502:]).encode())
        repairs = [n for n in year.notes if n.kind == "repair"]
        self.assertEqual((len(repairs), repairs[0].line), (1, 500))
        self.assertIn("2 h from 21 January, 12:00", repairs[0].text)

    def test_a_longer_gap_is_refused_with_its_line(self):
        rows = lines(EPW)
        error = self.refused("gap.epw", rows[:500] + rows[530:], "30 hours are missing from 21 January, 12:00")
        self.assertEqual(error.line, 500)

    def test_an_hour_twice(self):
        rows = lines(EPW)
        self.refused("twice.epw", [*rows[:500], rows[499], *rows[500:]], "line 501: .*a second time")

    def test_wrong_columns(self):
        rows = lines(CSV)
        header = next(i for i, row in enumerate(rows) if row.startswith("time(UTC)"))
        rows[header] = rows[header].replace("G(h)", "Glob")
        self.refused("columns.csv", rows, "column ghi: this column is missing")

    def test_a_cut_line_is_bridged_and_listed(self):
        rows = lines(EPW)
        rows[1000] = ",".join(rows[1000].split(",")[:6])
        year = read_weather("short.epw", "\n".join(rows).encode())
        self.assertEqual({n.line for n in year.notes if n.kind == "repair"}, {1001})
        self.assertTrue(np.isfinite(year.air_c).all())

    def test_a_line_too_long_is_named(self):
        rows = lines(CSV)
        rows[1000] += ",1,2,3"
        self.refused("long.csv", rows, "line 1001: 13 fields where the other lines have 10")

    def test_a_number_out_of_range_names_line_and_column(self):
        rows = lines(EPW)
        row = rows[700].split(",")
        row[6] = "812.0"
        rows[700] = ",".join(row)
        error = self.refused("hot.epw", rows, r"812 °C is outside -70 to 60 °C")
        self.assertEqual((error.line, error.column), (701, "temp_air"))

    def test_text_where_a_number_should_be(self):
        rows = lines(EPW)
        for i in range(700, 706):
            row = rows[i].split(",")
            row[6] = "99.9"
            rows[i] = ",".join(row)
        self.refused("holes.epw", rows, "line 701, column temp_air: 6 hours in a row hold no number")

    def test_night_sun(self):
        rng = np.random.default_rng(1)
        order = rng.permutation(8760)
        jumbled = replace(tmy3(), ghi_w_m2=tmy3().ghi_w_m2[order], dni_w_m2=tmy3().dni_w_m2[order])
        with self.assertRaisesRegex(WeatherFileError, "of the sun falls at night"):
            checked(jumbled)

    def test_no_sun_and_too_much_sun(self):
        dark = replace(tmy3(), ghi_w_m2=np.zeros(8760))
        with self.assertRaisesRegex(WeatherFileError, "holds no sun"):
            checked(dark)
        with self.assertRaisesRegex(WeatherFileError, "brighter than 1.2 times"):
            checked(replace(tmy3(), ghi_w_m2=2.5 * tmy3().ghi_w_m2))


class Clock(TestCase):
    def test_the_epw_of_pvgis_holds_utc_and_is_caught(self):
        year, clock = checked(read_weather(EPW, raw(EPW)))
        self.assertTrue(clock.off)
        self.assertEqual(clock.best_shift_h, 1)
        self.assertIn("may be UTC", year.notes[-1].text)
        _mended, after = checked(shifted(replace(year, notes=()), 1))
        self.assertFalse(after.off)

    def test_five_hours_off(self):
        late = shifted(tmy3(), 5)
        self.assertEqual(check_clock(late, sun_year(late)).best_shift_h, -5)


class Mains(TestCase):
    def test_wave_and_months(self):
        wave = mains_wave(13.0, 6.0, 35.0)
        self.assertAlmostEqual(wave[35 * 24], 7.0)
        self.assertAlmostEqual(wave.mean(), 13.0, places=3)
        months = tuple(float(m) for m in range(5, 17))
        self.assertAlmostEqual(mains_from_months(months)[16 * 24 - 12], 5.0, delta=0.2)

    def test_simulated_from_air_lags_it_and_turns_south(self):
        air = clear_year().air_c
        north, south = mains_from_air(air, False), mains_from_air(air, True)
        self.assertAlmostEqual(north.mean(), air.mean() + 6 / 1.8, delta=0.1)
        self.assertGreater(np.argmin(north) / 24, 20)
        self.assertAlmostEqual(abs(np.argmin(south) - np.argmin(north)) / 24, 182.5, delta=1)


class Synthetic(TestCase):
    means = MonthlyMeans(ghi_kwh_m2_day=(1.2, 2.1, 3.3, 4.6, 5.6, 6.1, 5.9, 5.0, 3.8, 2.4, 1.4, 1.0),
                         air_c=(6, 6, 8, 10, 13, 16, 18, 18, 16, 13, 9, 7))  # fmt: skip
    place = {"name": "made up", "latitude_deg": 46.4, "longitude_deg": -11.6, "elevation_m": 20.0, "utc_offset_h": -1.0}

    def test_hollands_huget_mean(self):
        for gamma, mean in ((1.5, 0.3237), (-2.0, 0.2038), (5.0, 0.4645)):
            self.assertAlmostEqual(clearness_mean(gamma, 0.8), mean, places=4)
            k = np.linspace(0, 0.8, 100_001)
            density = (0.8 - k) / 0.8 * np.exp(gamma * k)
            numeric = np.trapezoid(k * density, k) / np.trapezoid(density, k)
            self.assertAlmostEqual(clearness_mean(gamma, 0.8), numeric, places=7)

    def test_means_come_out_as_they_went_in(self):
        year = synthetic_year(self.means, seed=1, **self.place)
        sun = monthly_sums(year.ghi_w_m2) / 1000 / np.array([31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31])
        np.testing.assert_allclose(sun, self.means.ghi_kwh_m2_day, rtol=1e-3)
        np.testing.assert_allclose(monthly_means(year.air_c), self.means.air_c, atol=0.01)
        _year, clock = checked(year)
        self.assertFalse(clock.off)

    def test_seeded(self):
        same = [synthetic_year(self.means, seed=s, **self.place).checksum() for s in (1, 1, 2)]
        self.assertEqual(same[0], same[1])
        self.assertNotEqual(same[0], same[2])

    def test_erbs(self):
        """Erbs et al. (1982): 0.991 at k 0.1, 0.165 above 0.8, continuous within 0.01 at 0.22."""
        found = erbs_diffuse_share(np.array([0.1, 0.9, 0.2199, 0.2201]))
        self.assertAlmostEqual(found[0], 0.991)
        self.assertAlmostEqual(found[1], 0.165)
        self.assertAlmostEqual(found[2], found[3], delta=0.01)


class Files(TestCase):
    def test_the_tmy3_year_ships_with_pvlib(self):
        self.assertTrue(TMY3.exists())


class Mangled(TestCase):
    def test_files_mangled_at_random_are_read_or_refused_in_words(self):
        refused = 0
        for number in range(60):
            name, content = mangled(number)
            try:
                checked(read_weather(name, content))
            except WeatherFileError as error:
                refused += 1
                self.assertIn(name, str(error), number)
        self.assertGreater(refused, 20)

    def test_endless_tables_are_refused_before_they_are_parted(self):
        endless = {
            "lines": "1\n" * (MOST_LINES + 1),
            "nothing": "\n" * 12_000_000,
            "columns": ",".join(["1"] * (MOST_COLUMNS + 1)) + "\n",
            "letters": "1;" + "2" * LONGEST_LINE,
        }
        for words, text in endless.items():
            with self.subTest(words), self.assertRaisesRegex(WeatherFileError, "are read"):
                read_weather("table.csv", text.encode())

    def test_a_table_within_the_limits_is_still_reported(self):
        self.assertEqual(guess_layout("t.csv", "hour,sun\n" + "1,2\n" * 200).names, ("hour", "sun"))

    def test_impossible_places_are_stated_with_their_range(self):
        for field, odd in (("Latitude", "91"), ("Latitude", "nan"), ("Longitude", "inf"), ("Elevation", "1e9")):
            text = "\n".join(lines(CSV)).replace(
                next(line for line in lines(CSV) if line.startswith(field)), f"{field} (decimal degrees): {odd}", 1
            )
            with self.subTest(field), self.assertRaises(WeatherFileError) as caught:
                read_weather(CSV, text.encode())
            self.assertIn(CSV, str(caught.exception))

    def test_twelve_means_of_nowhere(self):
        document = json.loads((EXAMPLES / "weather" / "merrow_coast.json").read_text())
        read_weather("means.json", json.dumps(document).encode())
        for field, odd in (("latitude_deg", float("nan")), ("elevation_m", float("inf")), ("longitude_deg", 1e9)):
            with self.subTest(field), self.assertRaisesRegex(WeatherFileError, "means.json"):
                read_weather("means.json", json.dumps({**document, field: odd}).encode())


class Uncertainties(TestCase):
    def words(self, **changed):
        year, _clock = checked(replace(pvgis(), **changed))
        return " ".join(note.text for note in year.notes)

    def test_a_sound_year_raises_none(self):
        for year in (pvgis(), tmy3()):
            text = " ".join(note.text for note in checked(year)[0].notes)
            self.assertNotRegex(text, "clearest days|hardly changes|jumps from hour")

    def test_sun_that_is_too_weak_or_too_strong(self):
        year = pvgis()
        for factor, word in ((0.4, "less"), (1.3, "more")):
            sun = {name: factor * getattr(year, name) for name in ("ghi_w_m2", "dni_w_m2", "dhi_w_m2")}
            self.assertRegex(self.words(**sun), f"clearest days bring .* {word} than clear air")

    def test_air_that_is_still_or_is_out_of_order(self):
        air = pvgis().air_c
        self.assertIn("hardly changes", self.words(air_c=np.full(8760, 11.0)))
        self.assertIn("jumps from hour", self.words(air_c=np.random.default_rng(1).permutation(air)))
