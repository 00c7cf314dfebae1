"""Does a year of weather obey the sun? Warnings, refusals, and the offer to mend its clock."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from heat.errors import WeatherFileError
from heat.weather.solar_position import SunYear
from heat.weather.year import Note, WeatherYear, sun_year

NIGHT_COS = -0.1  # sun more than 5.7 deg below the horizon
NIGHT_SUN_W_M2 = 10.0
NIGHT_SHARE_REFUSED = 0.01
CLEAR_GAIN = 0.02
MAX_SHIFT_H = 14


@dataclass(frozen=True)
class Clock:
    """How well the stamps fit the sun: ``score`` now and at the best shift (share of the sun, no
    unit), and that shift (h, positive: values must move later).
    """

    score: float
    best_shift_h: int
    best_score: float

    @property
    def off(self) -> bool:
        """Whether another shift of the clock fits the sun clearly better."""
        return self.best_shift_h != 0 and self.score - self.best_score > CLEAR_GAIN


def misfit(weather: WeatherYear, cos_zenith: NDArray[np.float64]) -> float:
    r"""Share of the year's global irradiation (no unit) not explained by the sun at cos_zenith (no unit).

    Sum of \|GHI - DHI - DNI cos z\| plus the irradiation that falls at night, over sum of GHI.

    Parameters
    ----------
    weather
        The weather, 8,760 hours.
    cos_zenith
        Cosine of the sun's zenith angle (no unit).

    Returns
    -------
    float
        Share of the year's global irradiation (no unit) not explained by the sun at cos_zenith (no unit).

    References
    ----------
    Long & Shi (2008), The Open Atmospheric Science Journal 2, 23-37 (closure test).
    """
    up = np.maximum(cos_zenith, 0.0)
    gap = np.abs(weather.ghi_w_m2 - weather.dhi_w_m2 - weather.dni_w_m2 * up)
    night = weather.ghi_w_m2 * (cos_zenith < NIGHT_COS)
    total = float(weather.ghi_w_m2.sum())
    return float(gap.sum() + night.sum()) / total if total else 0.0


def check_clock(weather: WeatherYear, sun: SunYear) -> Clock:
    """Try shifts of -14 to +14 h of the values against the sun; returns the best (h).

    Parameters
    ----------
    weather
        The weather, 8,760 hours.
    sun
        The sun over the site, 8,760 hours.

    Returns
    -------
    Clock
        The shift that fits best (h), and how well.
    """
    scores = {s: misfit(weather, np.roll(sun.cos_zenith, -s)) for s in range(-MAX_SHIFT_H, MAX_SHIFT_H + 1)}
    best = min(scores, key=lambda s: (scores[s], abs(s)))
    return Clock(scores[0], best, scores[best])


def checked(weather: WeatherYear) -> tuple[WeatherYear, Clock]:
    """The same year with its warnings noted (irradiance W/m²), and the fit of its clock (h).

    Parameters
    ----------
    weather
        The weather, 8,760 hours.

    Returns
    -------
    tuple[WeatherYear, Clock]
        The same year with its warnings noted (irradiance W/m²), and the fit of its clock (h).

    Raises
    ------
    WeatherFileError
        Where no shift of the stamps would make sense of the sun: night-time sun above 1 % of the year, no sun
        at all, or more than the sky can give.
    """
    if weather.ghi_w_m2.sum() < 1e5:
        raise WeatherFileError(
            weather.name,
            "the year holds no sun (global irradiation below 100 kWh/m²).",
            column="ghi",
            way_out="Check the column and its unit (W/m²).",
        )
    sun = sun_year(weather)
    clock = check_clock(weather, sun)
    right = np.roll(sun.cos_zenith, -clock.best_shift_h) if clock.off else sun.cos_zenith
    notes = list(weather.notes)
    night = (right < NIGHT_COS) & (weather.ghi_w_m2 > NIGHT_SUN_W_M2)
    share = float(weather.ghi_w_m2[night].sum() / weather.ghi_w_m2.sum())
    if share > NIGHT_SHARE_REFUSED:
        first = int(np.flatnonzero(night)[0])
        raise WeatherFileError(
            weather.name,
            f"{100 * share:.1f} % of the sun falls at night, first on day {first // 24 + 1} of the "
            f"year at {first % 24}:00.",
            column="ghi",
            way_out="The place in the heading does not fit the data, or the hours are out of order.",
        )
    if night.any():
        notes.append(
            Note("warning", f"{int(night.sum())} hours of sun below the horizon, {100 * share:.2f} % of the year.")
        )
    if clock.off:
        notes.append(
            Note(
                "warning",
                f"The sun stands {abs(clock.best_shift_h)} h {'later' if clock.best_shift_h < 0 else 'earlier'} "
                "in this file than at its place: the stamps may be UTC. "
                f"Moving all values by {clock.best_shift_h:+d} h would mend it.",
            )
        )
    elif clock.score > 0.1:
        notes.append(
            Note("warning", f"Global, beam and diffuse sun disagree by {100 * clock.score:.0f} % of the year's sum.")
        )
    ceiling = 1.2 * sun.extraterrestrial_w_m2 * np.maximum(right, 0.0)
    over = (right > 0.1) & (weather.ghi_w_m2 > ceiling)
    if over.mean() > 0.01:
        first = int(np.flatnonzero(over)[0])
        raise WeatherFileError(
            weather.name,
            f"{int(over.sum())} hours are brighter than 1.2 times the sun outside the atmosphere, "
            f"first on day {first // 24 + 1} at {first % 24}:00.",
            column="ghi",
            way_out="Check the unit (W/m²) and the place in the heading.",
        )
    if over.any():
        notes.append(Note("warning", f"{int(over.sum())} hours are brighter than 1.2 times the extraterrestrial sun."))
    notes += [
        Note("warning", words) for words in (*_uncertainties_of_sun(weather, sun), *_uncertainties_of_air(weather))
    ]
    return replace(weather, notes=tuple(notes)), clock


CLEAREST, DULLEST = 0.84, 0.5
"""Daily clearness (share of the sun outside the atmosphere, no unit) that the clearest days of a year hardly pass, and
hardly miss. Source: Duffie & Beckman, Solar Engineering of Thermal Processes, 4th ed., 2.9: clear days bring 0.7 to
0.8; margins our own."""
LEAST_SPREAD_K, LEAST_MEMORY = 1.5, 0.6
"""Spread of a year's air (K), and how alike one hour is to the next (correlation, no unit). Source: our own choice; the
years of the tests have 5 to 12 K, and 0.95 and more."""


def _uncertainties_of_sun(weather: WeatherYear, sun: SunYear) -> list[str]:
    """Whether the clearest days are as clear as clear air makes them (irradiance W/m²)."""
    outside = (sun.extraterrestrial_w_m2 * np.maximum(sun.cos_zenith, 0.0)).reshape(365, 24).sum(axis=1)
    days = outside > 0.3 * outside.max()
    clear = float(np.quantile(weather.ghi_w_m2.reshape(365, 24).sum(axis=1)[days] / outside[days], 0.95))
    if DULLEST <= clear <= CLEAREST:
        return []
    rather = "less" if clear < DULLEST else "more"
    share = f"{100 * clear:.0f} % of the sun outside the atmosphere"
    return [
        f"Its clearest days bring {share}, {rather} than clear air lets through (70 to 80 %): check unit and place."
    ]


def _uncertainties_of_air(weather: WeatherYear) -> list[str]:
    """Whether the air (°C) changes as air does."""
    air = weather.air_c
    if float(np.std(air)) < LEAST_SPREAD_K:
        return ["The air hardly changes in the whole year: check its column."]
    if float(np.corrcoef(air[:-1], air[1:])[0, 1]) < LEAST_MEMORY:
        return ["The air jumps from hour to hour as no weather does: its hours may be out of order."]
    return []
