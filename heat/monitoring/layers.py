"""Heat in a store from its layers, each with its own volume; layers without a sensor filled in, and marked so."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

from heat.constants import WATER_J_KGK, WATER_KG_L

WAYS = ("straight", "neighbour", "simulated", "left out")
"""How a layer without a sensor is filled in: straight between its neighbours, like the nearest, as calculated for that
hour, or left out of the sum."""
WH_L_K = WATER_KG_L * WATER_J_KGK / 3600.0
"""Heat of a litre of water for a kelvin (Wh)."""


@dataclass(frozen=True)
class FilledLayers:
    """Layers from the floor up (°C), and which of them no sensor read."""

    celsius: tuple[float | None, ...]
    guessed: tuple[bool, ...]


@dataclass(frozen=True)
class Gain:
    """Heat a store gained (kWh), its uncertainty (kWh, one standard deviation), each layer's share of it (kWh), and
    how much of it lies in layers that no sensor read (kWh).
    """

    kwh: float
    uncertainty_kwh: float
    by_layer: tuple[float, ...]
    guessed_kwh: float


def filled(readings: Sequence[float | None], way: str, simulated: Sequence[float] = ()) -> FilledLayers:
    """Layers (°C, from the floor up) with those that no sensor read (None) filled in one of WAYS.

    For the way ``simulated`` the year's shape is moved to the sensors there are.

    Parameters
    ----------
    readings
        Readings of the sensors (°C); None where one was not read.
    way
        How layers without a sensor are filled, one of WAYS.
    simulated
        The layers as simulated (°C).

    Returns
    -------
    FilledLayers
        Layers (°C, from the floor up).

    Raises
    ------
    ValueError
        Where no layer was read at all, or a way is unknown.
    """
    known = [i for i, value in enumerate(readings) if value is not None]
    if not known or way not in WAYS:
        raise ValueError("no layer was read" if not known else f"no way “{way}”")
    shift = sum(float(readings[i] or 0.0) - simulated[i] for i in known) / len(known) if way == "simulated" else 0.0

    def guess(i: int) -> float | None:
        if way == "left out":
            return None
        if way == "simulated":
            return simulated[i] + shift
        below, above = max((k for k in known if k < i), default=None), min((k for k in known if k > i), default=None)
        if below is None or above is None:
            return readings[below if above is None else above]  # type: ignore[index]
        low, high = float(readings[below] or 0.0), float(readings[above] or 0.0)
        if way == "neighbour":
            return low if i - below <= above - i else high
        return low + (high - low) * (i - below) / (above - below)

    values = tuple(value if value is not None else guess(i) for i, value in enumerate(readings))
    return FilledLayers(values, tuple(value is None for value in readings))


def gain(before: FilledLayers, after: FilledLayers, litres: Sequence[float], sensor_k: float = 0.5) -> Gain:
    """Heat gained between two readings of the same layers of these volumes (L).

    ``Q = sum V_i rho c (T_i' - T_i)``; a layer left out of either adds nothing. The uncertainty counts each
    reading's own.

    Parameters
    ----------
    before
        The first reading.
    after
        The second.
    litres
        Volume of each layer (L).
    sensor_k
        Standard uncertainty of a temperature sensor (K).

    Returns
    -------
    Gain
        Heat gained between two readings of the same layers of these volumes (L).
    """
    parts, uncertainty, guessed = [], 0.0, 0.0
    for a, b, volume, unsure, unsure_2 in zip(
        before.celsius, after.celsius, litres, before.guessed, after.guessed, strict=True
    ):
        kwh = 0.0 if a is None or b is None else volume * WH_L_K * (b - a) / 1000.0
        parts.append(kwh)
        if a is not None and b is not None:
            uncertainty += 2.0 * (volume * WH_L_K * sensor_k / 1000.0) ** 2
        guessed += kwh if unsure or unsure_2 else 0.0
    return Gain(sum(parts), sqrt(uncertainty), tuple(parts), guessed)


def careless(before: Sequence[float | None], after: Sequence[float | None], litres: Sequence[float]) -> float:
    """Heat (kWh) as it is often summed: the mean of the sensors there are, times the whole volume (L) of the store,
    from readings in °C; a store's layers without a sensor are taken to be like the mean.

    Parameters
    ----------
    before
        The first reading (°C); None where a sensor is missing.
    after
        The second (°C).
    litres
        Volume of each layer (L).

    Returns
    -------
    float
        Heat (kWh) as it is often summed: the mean of the sensors there are, times the whole volume (L) of the
        store, from readings in °C; a store's layers without a sensor are taken to be like the mean.
    """
    mean = lambda readings: sum(v for v in readings if v is not None) / sum(v is not None for v in readings)
    return float(sum(litres) * WH_L_K * (mean(after) - mean(before)) / 1000.0)
