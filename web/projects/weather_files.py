"""A weather year as a kept file and back."""

import io

import numpy as np

from heat.weather.year import COLUMNS, Note, WeatherYear
from web.projects.models import WeatherFile


def pack(weather: WeatherYear) -> bytes:
    """The arrays of a weather year as bytes."""
    buffer = io.BytesIO()
    arrays = {c: getattr(weather, c) for c in (*COLUMNS, "infrared_w_m2")}
    np.savez_compressed(buffer, **{c: a.astype(np.float32) for c, a in arrays.items() if a is not None})
    return buffer.getvalue()


def about(weather: WeatherYear) -> dict[str, object]:
    """Everything of a weather year but its arrays."""
    return {
        "latitude_deg": weather.latitude_deg,
        "longitude_deg": weather.longitude_deg,
        "elevation_m": weather.elevation_m,
        "utc_offset_h": weather.utc_offset_h,
        "sun_moment_h": weather.sun_moment_h,
        "notes": [[n.kind, n.text, n.line] for n in weather.notes],
    }


def unpacked(file: WeatherFile) -> WeatherYear:
    """The weather year a file holds, made anew."""
    arrays = np.load(io.BytesIO(bytes(file.data)))
    columns = {c: arrays[c].astype(np.float64) for c in arrays.files}
    place = {k: v for k, v in file.about.items() if k != "notes"}
    notes = tuple(Note(*n) for n in file.about["notes"])
    return WeatherYear(name=file.name, kind=file.kind, made_up=file.made_up, notes=notes, **place, **columns)
