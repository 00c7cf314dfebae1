"""Sun: position, incidence and transposition against published numbers and pvlib."""

from unittest import TestCase

import numpy as np
import pandas as pd
from pvlib import irradiance, solarposition

from heat.collector.incidence import b0_modifier, hemispherical_modifier
from heat.ledger import accounts as acc
from heat.simulation.year import simulate
from heat.sun.plane import SKY_MODELS, incidence_cosine, tilted_irradiance
from heat.tests.samples import case_design, clear_year, tmy3
from heat.weather.solar_position import sun_positions
from heat.weather.year import sun_year


class Position(TestCase):
    def test_nrel_report(self):
        """Reda & Andreas (2004), table A5.1: apparent zenith 50.1116, azimuth 194.340 deg."""
        time = pd.DatetimeIndex(["2003-10-17 12:30:30"], tz="Etc/GMT+7")
        found = solarposition.spa_python(time, 39.742476, -105.1786, 1830.14, pressure=82000, temperature=11)
        self.assertAlmostEqual(found["apparent_zenith"].iloc[0], 50.1116, places=3)
        self.assertAlmostEqual(found["azimuth"].iloc[0], 194.340, places=3)

    def test_our_year_is_spa_at_mid_hour(self):
        sun = sun_positions(39.742476, -105.1786, 1830.14, -7.0)
        time = pd.DatetimeIndex(["1990-10-17 12:30:00"], tz="Etc/GMT+7")
        true = solarposition.spa_python(time, 39.742476, -105.1786, 1830.14)
        hour = (289 * 24) + 12
        self.assertAlmostEqual(sun.cos_zenith[hour], np.cos(np.radians(true["zenith"].iloc[0])), places=9)
        self.assertAlmostEqual(sun.azimuth_deg[hour], true["azimuth"].iloc[0], places=6)

    def test_hours_of_sunrise_take_the_middle_of_their_lit_part(self):
        sun = sun_positions(45.0, 8.0, 250.0, 1.0)
        day = sun.cos_zenith[100 * 24 : 101 * 24]
        self.assertTrue((day[5:8] > 0).any())
        first = int(np.argmax(day > 0))
        self.assertLess(day[first], 0.13)
        self.assertLess(day[first - 1], 0)


class Incidence(TestCase):
    def test_duffie_and_beckman(self):
        """Ch. 1: 43 N, declination -14, tilt 45, 15 deg west of south, 10:30 solar: 35 deg."""
        lat, dec, hour = np.radians([43.0, -13.95, -22.5])
        cos_z = np.sin(lat) * np.sin(dec) + np.cos(lat) * np.cos(dec) * np.cos(hour)
        azimuth = np.pi + np.arctan2(np.sin(hour), np.cos(hour) * np.sin(lat) - np.tan(dec) * np.cos(lat))
        found = incidence_cosine(cos_z, azimuth, np.radians(45.0), np.radians(195.0))
        self.assertAlmostEqual(np.degrees(np.arccos(found)), 35.2, delta=0.05)

    def test_b0_form(self):
        cosines = np.cos(np.radians([0.0, 60.0, 75.0, 90.0]))
        np.testing.assert_allclose(b0_modifier(cosines, 0.1, straight=True), [1.0, 0.9, 0.45, 0.0], atol=1e-9)
        np.testing.assert_allclose(b0_modifier(cosines, 0.1)[[0, 1, 3]], [1.0, 0.9, 0.0], atol=1e-9)
        self.assertEqual(b0_modifier(np.array([-0.2]), 0.1)[0], 0.0)

    def test_hemispherical_modifier_is_the_integral(self):
        theta = np.linspace(0, np.pi / 2, 200_001)
        integrand = b0_modifier(np.cos(theta), 0.12) * np.sin(2 * theta)
        self.assertAlmostEqual(hemispherical_modifier(0.12), float(np.trapezoid(integrand, theta)), places=6)


class Transposition(TestCase):
    def test_against_pvlib(self):
        weather, sun = tmy3(), sun_year(tmy3())
        lit = sun.cos_zenith > 0.1
        zenith = np.degrees(np.arccos(np.clip(sun.cos_zenith, -1, 1)))
        for sky in SKY_MODELS:
            ours = tilted_irradiance(weather, sun, tilt_deg=40, azimuth_deg=200, sky=sky)
            theirs = irradiance.get_total_irradiance(
                40,
                200,
                zenith,
                sun.azimuth_deg,
                weather.dni_w_m2,
                weather.ghi_w_m2,
                weather.dhi_w_m2,
                dni_extra=sun.extraterrestrial_w_m2,
                airmass=_air_mass(zenith),
                albedo=0.2,
                model=sky,
            )
            for name, mine in (
                ("poa_direct", ours.beam_w_m2),
                ("poa_sky_diffuse", ours.sky_w_m2),
                ("poa_ground_diffuse", ours.ground_w_m2),
            ):
                their = np.nan_to_num(np.asarray(theirs[name]))
                with self.subTest(sky=sky, part=name):
                    np.testing.assert_allclose(mine[lit], their[lit], rtol=2e-3, atol=0.2)

    def test_level_plane_receives_the_horizontal_sun(self):
        weather = clear_year()
        plane = tilted_irradiance(weather, sun_year(weather), tilt_deg=0, azimuth_deg=180, sky="isotropic")
        np.testing.assert_allclose(plane.total_w_m2(), weather.ghi_w_m2, atol=1e-6)

    def test_southern_mirror_year_gives_the_same(self):
        """The year of 40 S, towards north, half a year later: annual sun within 0.5 %."""
        north = simulate(_placed(40.0, 180), clear_year())
        south = simulate(_placed(-40.0, 0), clear_year(latitude_deg=-40.0))
        self.assertAlmostEqual(south.total(acc.INTO_STORE) / north.total(acc.INTO_STORE), 1.0, delta=0.005)


def _air_mass(zenith):
    from pvlib import atmosphere

    return atmosphere.get_relative_airmass(np.minimum(zenith, 90.0), model="kastenyoung1989")


def _placed(latitude, azimuth):
    document = case_design().model_dump(mode="json")
    document["site"] |= {"latitude_deg": latitude, "longitude_deg": 0.0, "elevation_m": 100.0}
    document["site"]["mains"] = {"source": "calculated"}
    document["plane"]["azimuth_deg"] = azimuth
    from heat.design import parse

    return parse(document)


class BelowTheHorizon(TestCase):
    """A year from elsewhere than its site has light where no sun stands: it comes from the whole dome."""

    def test_no_circumsolar_light_without_a_sun(self):
        from math import pi

        from heat.sun.plane import PEREZ, PEREZ_BINS, hay_davies_sky, isotropic_sky, perez_sky

        for cos_zenith in (0.0, -0.2):
            even = isotropic_sky(300.0, pi / 3)
            self.assertEqual(perez_sky(300.0, 140.0, 1317.0, cos_zenith, 0.9, pi / 3, PEREZ_BINS, PEREZ), even)
            self.assertEqual(hay_davies_sky(300.0, 140.0, 1317.0, cos_zenith, 0.9, pi / 3), even)
        # just above it at most all light is the sun's own: 300 W/m² times cos i / cos 85°, and the horizon's band
        low = perez_sky(300.0, 140.0, 1317.0, 0.01, 0.9, pi / 3, PEREZ_BINS, PEREZ)
        self.assertLess(low, 300.0 * 0.9 / 0.087156 + 300.0)
