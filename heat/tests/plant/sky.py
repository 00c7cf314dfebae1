"""Sun on the plant's plane, minute by minute: beam and sky apart by pvlib's positions, clouds that pass in minutes."""

import numpy as np
import pandas as pd
import pvlib
from numpy.typing import NDArray

from heat.tests.plant.physics import STEP_S, Plant

Array = NDArray[np.float64]


def moments(first: int, hours: int) -> Array:
    """Middles of the steps (h of the year)."""
    count = int(hours * 3600 / STEP_S)
    return first + (np.arange(count) + 0.5) * STEP_S / 3600.0


def hourly(row: Array, hour: Array) -> Array:
    """An hourly mean at moments, straight between the middles of the hours."""
    return np.interp(hour, np.arange(row.size) + 0.5, row)


def absorbed(
    plant: Plant, ghi: Array, dni: Array, dhi: Array, offset_h: float, hour: Array, rng: np.random.Generator
) -> tuple[Array, Array, Array]:
    """Sun absorbed for each m² of the plant's collectors, and level and plane irradiance (W/m²) at moments (h)."""
    minute = np.arange(np.floor(hour[0] * 60.0), np.ceil(hour[-1] * 60.0) + 1.0) / 60.0
    when = pd.Timestamp("2023-01-01", tz="UTC") + pd.to_timedelta(minute - offset_h, unit="h")
    spot = pvlib.solarposition.get_solarposition(
        when, plant.latitude_deg, plant.longitude_deg, method="ephemeris", temperature=10
    )
    up = np.maximum(np.cos(np.radians(spot["zenith"].to_numpy())), 0.0)
    incidence = np.maximum(
        pvlib.irradiance.aoi_projection(plant.tilt_deg, plant.azimuth_deg, spot["zenith"], spot["azimuth"]).to_numpy(),
        0.0,
    )
    elevation = spot["elevation"].to_numpy()
    at = np.floor(minute).astype(int) % 8760
    # within an hour the sun follows its height, and clouds pass: a slow noise of minutes, of the hour's own mean
    noise = np.zeros(minute.size)
    for i in range(1, minute.size):
        noise[i] = 0.93 * noise[i - 1] + rng.normal(0.0, 0.1)
    cloud = np.clip(1.0 + noise * np.clip(1.2 - dni[at] / 900.0, 0.0, 1.0), 0.05, 1.5)

    def shaped(row: Array, weight: Array) -> Array:
        total, count = np.zeros(8762), np.zeros(8762)
        np.add.at(total, at, weight)
        np.add.at(count, at, 1.0)
        mean = total[at] / np.maximum(count[at], 1.0)
        return np.where(mean > 1e-6, row[at] * weight / np.maximum(mean, 1e-6), 0.0)

    beam = shaped(dni, (up > 0.01) * cloud)
    sky = shaped(dhi, np.maximum(up, 0.02) * (up > 0))
    level = beam * up + sky
    shaded = np.where(elevation < plant.tree_deg, 0.15, 1.0)
    tilt = np.radians(plant.tilt_deg)
    grazing = np.maximum(incidence, 0.05)
    iam = np.clip(1.0 - plant.b0 * (1.0 / grazing - 1.0), 0.0, 1.0)
    from_sky = sky * 0.5 * (1.0 + np.cos(tilt)) + level * plant.albedo * 0.5 * (1.0 - np.cos(tilt))
    plane = beam * incidence + from_sky
    taken = plant.eta0 * (1.0 - plant.dirt) * (beam * incidence * shaded * iam + from_sky * (1.0 - plant.b0))
    read = lambda row: np.interp(hour, minute, row)
    return read(taken), read(level), read(plane)
