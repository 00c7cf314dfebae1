"""Mirrors, troughs and made years held against published view factors, the law of reflection and real years."""

from collections.abc import Callable, Iterator
from math import atan, cos, log, pi, radians, sin, sqrt, tan

import numpy as np

from heat.collector.absorbed import beam_modifier, diffuse_modifier
from heat.design import Collector, parse
from heat.design.place import Plane
from heat.simulation.year import simulate
from heat.sun.mirror import mirror_beam, mirror_view
from heat.tests.claims import Row
from heat.tests.samples import TMY3, case_design, pvgis, tmy3
from heat.weather.known_sun import NINETY, YEARS_SPREAD, known_places, kriged, left_over, months_band
from heat.weather.readers import read_weather
from heat.weather.solar_position import SunYear
from heat.weather.synthetic import MonthlyMeans, synthetic_year
from heat.weather.world import rough_climate, rough_year, with_sun
from heat.weather.year import WeatherYear, monthly_means, monthly_sums

FOG_COAST = "703165TY.csv"
"""A real year of a foggy coast: where the rule is known to fail."""


def shipped_year(name: str) -> WeatherYear:
    """A real year that comes with pvlib."""
    path = TMY3.parent / name
    return read_weather(path.name, path.read_bytes())


def corner_factor(wide: float, deep: float, tall: float) -> float:
    """From a wall (tall) to a floor (deep) that share an edge (wide): configuration C-14."""
    w, h = tall / wide, deep / wide
    both = sqrt(h * h + w * w)
    angles = w * atan(1 / w) + h * atan(1 / h) - both * atan(1 / both)
    a, b = 1 + w * w, 1 + h * h
    c = a + h * h
    product = a * b / c * (w * w * c / (a * both**2)) ** (w * w) * (h * h * c / (b * both**2)) ** (h * h)
    return (angles + 0.25 * log(product)) / (pi * w)


def views() -> Iterator[Row]:
    source = "Howell, catalogue of configuration factors, C-14"
    for wide, deep in ((4.0, 1.5), (4.0, 3.0), (10.0, 1.0)):
        plane = Plane(
            tilt_deg=90,
            slope_m=2,
            mirror={"fitted": True, "width_m": wide, "depth_m": deep, "gap_m": 0, "reflectance": 0.9, "soiling": 0},
        )
        view = mirror_view(plane, wide)
        expected = corner_factor(wide, deep, 2.0)
        name = f"level mirror {wide:g} x {deep:g} m before a wall of 2 m"
        yield Row(f"{name}, hides of the ground", expected, float(view.ground_hidden[0]), 0.03 * expected, source)
        yield Row(f"{name}, shows of the sky", 0.9 * expected, float(view.sky_mirrored[0]), 0.03 * expected, source)


def _square_on(altitude_deg: float) -> SunYear:
    """The sun square before a plane that faces south."""
    up = np.full(8760, sin(radians(altitude_deg)))
    return SunYear(up, np.full(8760, 180.0), np.full(8760, 1361.0))


def thrown() -> Iterator[Row]:
    """Wide things in profile: a wall of 2 m, the sun square on."""
    mirror = {"fitted": True, "width_m": 200, "depth_m": 1.0, "gap_m": 0, "reflectance": 0.9, "soiling": 0}
    wall = Plane(tilt_deg=90, slope_m=2, azimuth_deg=180, mirror=mirror)
    for altitude in (20.0, 50.0):
        (facet,), _lit = mirror_beam(_square_on(altitude), wall, 200.0)
        lit_m = min(1.0 * tan(radians(altitude)), 2.0)  # of the wall's height, as the law of reflection sends it
        expected = 0.9 * lit_m / 2.0 * cos(radians(altitude))
        name = f"level mirror, sun at {altitude:g}°"
        yield Row(f"{name}, beam on the wall", expected, float(facet.share[0]), 0.02 * expected, "law of reflection")
        yield Row(
            f"{name}, incidence on the wall, cos",
            cos(radians(altitude)),
            float(facet.cos_incidence[0]),
            1e-9,
            "law of reflection",
        )
        passes = beam_modifier(Collector(iam_b0=0.1), facet.cos_incidence, facet.cos_zenith, facet.azimuth_deg, wall)
        yield Row(
            f"{name}, modifier at its own incidence",
            1 - 0.1 * (1 / cos(radians(altitude)) - 1),
            float(passes[0]),
            1e-9,
            "1 - b0 (1/cos - 1)",
        )
    high = wall.model_copy(update={"mirror": wall.mirror.model_copy(update={"tilt_deg": 60.0, "gap_m": 1.0})})
    _beams, lit = mirror_beam(_square_on(10.0), high, 200.0)
    shadow = (sin(radians(60)) - (1 + cos(radians(60))) * tan(radians(10))) / 2.0
    yield Row("mirror raised by 60° before low sun, lit of the wall", 1 - shadow, float(lit[0]), 0.05, "by hand")
    low = wall.model_copy(update={"mirror": wall.mirror.model_copy(update={"foot_m": -1.0, "gap_m": 2.0})})
    (facet,), _lit = mirror_beam(_square_on(45.0), low, 200.0)
    # rays that leave 2 to 3 m before the wall and 1 m below rise to 1 to 2 m on it
    yield Row(
        "mirror 2 m off and 1 m below, sun at 45°, beam",
        0.45 * cos(radians(45)),
        float(facet.share[0]),
        0.01,
        "law of reflection",
    )


def troughs() -> Iterator[Row]:
    part = Collector(trough=True, acceptance_deg=30, iam_diffuse=0.9)
    yield Row("trough of 30° acceptance, diffuse taken", 0.45, diffuse_modifier(part), 1e-9, "Rabl 1976, 1/C = sin")


def means_of(year: WeatherYear) -> MonthlyMeans:
    """Twelve means of a year."""
    days = np.array([31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31])
    daily = year.air_c.reshape(365, 24)
    swing = daily.max(axis=1) - daily.min(axis=1)
    month = np.repeat(np.arange(12), days)
    return MonthlyMeans(
        ghi_kwh_m2_day=tuple(monthly_sums(year.ghi_w_m2) / 1000 / days),
        air_c=tuple(monthly_means(year.air_c)),
        daily_range_k=tuple(float(swing[month == m].mean()) for m in range(12)),
        humidity_pct=tuple(monthly_means(year.humidity_pct)),
        wind_m_s=tuple(monthly_means(year.wind_m_s)),
    )


def made_years() -> Iterator[Row]:
    """Fractions of years made of a real year's means, over six seeds and three sizes, against the real year."""
    source = "the real years themselves"
    gaps = []
    for name, real, most in (("723170TYA", tmy3(), 0.4), ("45N 8E", pvgis(), 1.3)):
        here = []
        years = [
            synthetic_year(
                means_of(real),
                name="made",
                seed=seed,
                latitude_deg=real.latitude_deg,
                longitude_deg=real.longitude_deg,
                elevation_m=real.elevation_m,
                utc_offset_h=real.utc_offset_h,
            )
            for seed in range(1, 7)
        ]
        for area, litres in ((3.0, 200.0), (4.0, 300.0), (6.0, 400.0)):
            document = case_design(area=area, litres=litres).model_dump(mode="json")
            document["site"] |= {"latitude_deg": real.latitude_deg, "longitude_deg": real.longitude_deg}
            design = parse(document)
            true = simulate(design, real).fractions.at_tap
            here.append(100 * (np.mean([simulate(design, y).fractions.at_tap for y in years]) - true))
        gaps += here
        yield Row(f"years made of the means of {name}: points off", 0.0, float(np.mean(here)), most, source)
    yield Row("years made of real means, both: points off", 0.0, float(np.mean(gaps)), 0.4, source)


def left_out() -> Iterator[Row]:
    """What is known of 274 places, each asked of its neighbours alone; real years; and a design's fraction in them."""
    source = "274 places as irradiance maps print them; each left out once"
    days = np.array([31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31])
    places = known_places()
    found = [left_over(lat, lon, kriged(np.delete(places, i, 0))) for i, (lat, lon, _left) in enumerate(places)]
    errors = np.array([np.exp(more - left) - 1 for (more, _sd), left in zip(found, places[:, 2], strict=True)])
    spreads = np.array([sd for _more, sd in found])
    name = "rough climate, one left out"
    yield Row(f"{name}: median error of the year's sun", 0.0, float(np.median(abs(errors))), 0.035, source)
    yield Row(f"{name}: nine of ten within", 0.0, float(np.quantile(abs(errors), 0.9)), 0.085, source)
    yield Row(f"{name}: bias", 0.0, float(errors.mean()), 0.01, source)
    inside = float((abs(np.log1p(errors)) <= NINETY * np.hypot(spreads, YEARS_SPREAD)).mean())
    yield Row(f"{name}: share within its own band", 0.95, inside, 0.05, source)
    for name, real in (("723170TYA", tmy3()), ("45N 8E", pvgis()), ("12839.tm2", shipped_year("12839.tm2"))):
        rough = rough_climate(real.latitude_deg, real.longitude_deg, real.elevation_m)
        sun = float(rough.ghi_kwh_m2_day @ days) / (float(real.ghi_w_m2.sum()) / 1000)
        yield Row(f"rough climate against {name}: the year's sun", 1.0, sun, 0.12, "the real year")
        months = rough.ghi_kwh_m2_day * days * 1000 / monthly_sums(real.ghi_w_m2) - 1
        spread = float(np.sqrt(np.mean(months**2)))
        yield Row(f"rough climate against {name}: months of sun, root mean square", 0.0, spread, 0.2, "the real year")
        worst = float(abs(months).max())
        yield Row(f"rough climate against {name}: its worst month of sun", 0.0, worst, 0.35, "the real year")
        warm = float(abs(rough.air_c - np.array(monthly_means(real.air_c))).max())
        yield Row(f"rough climate against {name}: its worst month of air, °C", 0.0, warm, 4.0, "the real year")
        air = float(np.mean(rough.air_c - np.array(monthly_means(real.air_c))))
        yield Row(f"rough climate against {name}: mean air, °C", 0.0, air, 2.0, "the real year")
        design = case_design()
        off = months_band(real.latitude_deg, real.longitude_deg)
        low, high = (
            simulate(design, with_sun(rough_year(real.latitude_deg, real.longitude_deg, real.elevation_m), share))
            for share in (-off, off)
        )
        half = 0.5 * (high.fractions.at_tap - low.fractions.at_tap)
        gap = simulate(design, real).fractions.at_tap - 0.5 * (high.fractions.at_tap + low.fractions.at_tap)
        yield Row(f"rough climate against {name}: the fraction from the band's middle", 0.0, gap, half, "the real year")
    fog = shipped_year(FOG_COAST)
    sun = rough_climate(fog.latitude_deg, fog.longitude_deg, fog.elevation_m).ghi_kwh_m2_day @ days
    yield Row(
        f"rough climate on a fog coast, {FOG_COAST}: beyond its uncertainty, as its note says",
        1.0,
        float(sun) / (float(fog.ghi_w_m2.sum()) / 1000),
        0.3,
        "the real year",
    )


LIGHT_CHECKS: tuple[Callable[[], Iterator[Row]], ...] = (views, thrown, troughs, made_years, left_out)
