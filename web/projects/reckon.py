"""The only door from the web to the core: years by design document and weather, kept a while."""

import io
import json
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime
from hashlib import sha256
from threading import Lock
from time import perf_counter
from typing import Any

import numpy as np

from heat.design import Design, parse
from heat.ledger import YearBook
from heat.results import figures
from heat.weather.year import COLUMNS, Note, WeatherYear
from heat.year import simulate
from web.projects.models import WeatherFile

YEARS_KEPT = 5
WEATHER_KEPT = 4
FRACTIONS_KEPT = 500
FIGURES_KEPT = 400


@dataclass(frozen=True)
class Reckoned:
    """A year's books, and how long they took (ms)."""

    book: YearBook
    took_ms: float
    at: datetime


_years: "OrderedDict[str, Reckoned]" = OrderedDict()
_fractions: "OrderedDict[str, float]" = OrderedDict()
_figures: "OrderedDict[str, Any]" = OrderedDict()
_weather: "OrderedDict[int, WeatherYear]" = OrderedDict()
_lock = Lock()


def pack(weather: WeatherYear) -> bytes:
    """The arrays of a weather year as bytes."""
    buffer = io.BytesIO()
    arrays = {c: getattr(weather, c) for c in (*COLUMNS, "infrared_w_m2")}
    np.savez_compressed(buffer, **{c: a.astype(np.float32) for c, a in arrays.items() if a is not None})
    return buffer.getvalue()


def about(weather: WeatherYear) -> dict[str, Any]:
    """Everything of a weather year but its arrays."""
    return {
        "latitude_deg": weather.latitude_deg,
        "longitude_deg": weather.longitude_deg,
        "elevation_m": weather.elevation_m,
        "utc_offset_h": weather.utc_offset_h,
        "sun_moment_h": weather.sun_moment_h,
        "notes": [[n.kind, n.text, n.line] for n in weather.notes],
    }


def weather_year(file: WeatherFile) -> WeatherYear:
    """The weather year a file holds; the same object while it is kept, so planes are kept too."""
    with _lock:
        if file.pk in _weather:
            _weather.move_to_end(file.pk)
            return _weather[file.pk]
    arrays = np.load(io.BytesIO(bytes(file.data)))
    columns = {c: arrays[c].astype(np.float64) for c in arrays.files}
    place = {k: v for k, v in file.about.items() if k != "notes"}
    notes = tuple(Note(*n) for n in file.about["notes"])
    year = WeatherYear(name=file.name, kind=file.kind, made_up=file.made_up, notes=notes, **place, **columns)
    with _lock:
        _weather[file.pk] = year
        while len(_weather) > WEATHER_KEPT:
            _weather.popitem(last=False)
    return year


def _key(design: Design, file: WeatherFile) -> str:
    text = json.dumps(design.model_dump(mode="json"), sort_keys=True)
    return sha256(f"{file.checksum} {text}".encode()).hexdigest()


def fraction(document: dict[str, Any], file: WeatherFile) -> float:
    """The solar fraction of a design's year (0 to 1), kept far longer than its books. Raises HeatError."""
    design = parse(document)
    with _lock:
        known = _fractions.get(_key(design, file))
    return reckon(design, file).book.fractions.at_tap if known is None else known


def reckon(document: dict[str, Any] | Design, file: WeatherFile) -> Reckoned:
    """The year of a design document in a weather file. Raises HeatError."""
    design = document if isinstance(document, Design) else parse(document)
    key = _key(design, file)
    with _lock:
        if key in _years:
            _years.move_to_end(key)
            return _years[key]
    start = perf_counter()
    book = simulate(design, weather_year(file))
    done = Reckoned(book, 1000 * (perf_counter() - start), datetime.now(UTC))
    with _lock:
        _years[key] = done
        _fractions[key] = book.fractions.at_tap
        while len(_fractions) > FRACTIONS_KEPT:
            _fractions.popitem(last=False)
        while len(_years) > YEARS_KEPT:
            _years.popitem(last=False)
    return done


def remembered(name: str, design: Design, file: WeatherFile, make: Callable[[], Any]) -> Any:
    """Small figures of a design and its weather, made once and kept while they are asked for."""
    key = f"{name} {_key(design, file)}"
    with _lock:
        if key in _figures:
            _figures.move_to_end(key)
            return _figures[key]
    made = make()
    with _lock:
        _figures[key] = made
        while len(_figures) > FIGURES_KEPT:
            _figures.popitem(last=False)
    return made


def passing_year(design: dict[str, Any] | Design, weather: WeatherYear) -> YearBook:
    """A year that is asked for once and not kept: a swap, another seed. Raises HeatError."""
    return simulate(design if isinstance(design, Design) else parse(design), weather)


def warm() -> None:
    """Compile, or load from disk, every kernel a year and its figures need."""
    hours = np.zeros(8760)
    light = 300.0 * (np.arange(8760) % 24 == 12)
    blank = WeatherYear(
        name="warm", kind="made up", latitude_deg=45.0, longitude_deg=0.0, elevation_m=0.0,
        utc_offset_h=0.0, ghi_w_m2=light, dni_w_m2=light, dhi_w_m2=light / 2, air_c=hours + 10,
        wind_m_s=hours, humidity_pct=hours, pressure_pa=hours + 1e5,
    )  # fmt: skip
    figures(simulate(parse({"demand": {"heating": {"fitted": True}}}), blank), blank)
