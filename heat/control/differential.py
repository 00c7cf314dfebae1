"""Differential control: the pump follows the collector's lead over the store."""

from typing import NamedTuple

from heat.common.compiled import inline_kernel


class Differential(NamedTuple):
    """Switch-on and switch-off differences (K), sensor heights (shares), limits (°C).

    ``release_k``: how far the limit sensor must fall (K) before the pump may start again.
    ``stop_without_gain``: the pump also stops when the collector returns no heat.
    ``collector_offset_k``, ``store_offset_k``: errors of the sensors (K); ``collector_exposure``: how
    much of the collector, not of the air, its sensor feels (0 to 1).
    """

    on_k: float
    off_k: float
    sensor_share: float
    limit_share: float
    store_limit_c: float
    release_k: float
    stop_without_gain: bool
    collector_limit_c: float
    collector_offset_k: float
    collector_exposure: float
    store_offset_k: float


@inline_kernel
def collector_reading(control: Differential, collector_c: float, air_c: float) -> float:
    """What the controller reads for a collector at collector_c (°C) in air_c (°C).

    A sensor that touches badly shows a mixture of collector and air; one that is off adds its error (K).

    Parameters
    ----------
    control
        The controller (K, °C, shares).
    collector_c
        Mean temperature of the collectors (°C).
    air_c
        Outdoor air (°C).

    Returns
    -------
    float
        What the sensor reads (°C).
    """
    return air_c + control.collector_exposure * (collector_c - air_c) + control.collector_offset_k


@inline_kernel
def store_allows(control: Differential, limit_c: float, was_full: bool) -> bool:
    """True while the store may take heat: reading limit_c (°C), and whether it was full before.

    Parameters
    ----------
    control
        The controller (K, °C, shares).
    limit_c
        Temperature not to be passed (°C).
    was_full
        Whether the store was at its limit before.

    Returns
    -------
    bool
        True while the store may take heat: reading limit_c (°C), and whether it was full before.
    """
    # hysteresis again: without release_k the pump would switch at the limit with each litre drawn
    if was_full:
        return limit_c < control.store_limit_c - control.release_k
    return limit_c < control.store_limit_c


@inline_kernel
def wants_start(control: Differential, collector_c: float, low_c: float) -> bool:
    """True if a standing pump should start: collector and lower sensor (°C).

    Parameters
    ----------
    control
        The controller (K, °C, shares).
    collector_c
        Mean temperature of the collectors (°C).
    low_c
        Lower sensor of the controller (°C).

    Returns
    -------
    bool
        True if a standing pump should start: collector and lower sensor (°C).
    """
    return collector_c - low_c >= control.on_k and collector_c <= control.collector_limit_c


@inline_kernel
def wants_stop(control: Differential, reading_c: float, inlet_c: float, low_c: float, outlet_c: float) -> bool:
    """True if a running pump should stop: collector sensor, inlet, lower sensor, outlet (°C).

    Parameters
    ----------
    control
        The controller (K, °C, shares).
    reading_c
        What the collector sensor reads (°C).
    inlet_c
        Temperature at the inlet (°C).
    low_c
        Lower sensor of the controller (°C).
    outlet_c
        Temperature at the outlet (°C).

    Returns
    -------
    bool
        True if a running pump should stop: collector sensor, inlet, lower sensor, outlet (°C).
    """
    if control.stop_without_gain and outlet_c <= inlet_c:
        return True
    return reading_c - low_c <= control.off_k
