"""An exchanger beside the store: hot fluid and store water pass each other."""

from math import exp

from heat.common.compiled import kernel


@kernel
def counterflow_effectiveness(ua_w_k: float, hot_w_k: float, cold_w_k: float) -> float:
    """Effectiveness (0 to 1, no unit) by the lesser capacity rate.

    ``(1 - exp(-N (1 - r)))/(1 - r exp(-N (1 - r)))``, N/(1 + N) at r = 1.

    Parameters
    ----------
    ua_w_k
        Heat transfer of the exchanger (W/K).
    hot_w_k
        Heat capacity rate of the hot side (W/K).
    cold_w_k
        Heat capacity rate of the cold side (W/K).

    Returns
    -------
    float
        Effectiveness (0 to 1, no unit).

    References
    ----------
    Incropera & DeWitt, 6th ed., eq. 11.29.
    """
    least = min(hot_w_k, cold_w_k)
    if least <= 0.0:
        return 0.0
    units = ua_w_k / least
    ratio = least / max(hot_w_k, cold_w_k)
    if 1.0 - ratio < 1e-9:
        return units / (1.0 + units)
    fading = exp(-units * (1.0 - ratio))
    return (1.0 - fading) / (1.0 - ratio * fading)


@kernel
def plate_response(ua_w_k: float, hot_w_k: float, cold_w_k: float, cold_c: float) -> tuple[float, float]:
    """Answer of the hot side, ``T_out = share T_in + offset``: share (no unit), offset (°C).

    UA and capacity rates (W/K); store water enters at cold_c (°C).

    Parameters
    ----------
    ua_w_k
        Heat transfer of the exchanger (W/K).
    hot_w_k
        Heat capacity rate of the hot side (W/K).
    cold_w_k
        Heat capacity rate of the cold side (W/K).
    cold_c
        Cold water (°C).

    Returns
    -------
    tuple[float, float]
        Answer of the hot side, ``T_out = share T_in + offset``: share (no unit), offset (°C).
    """
    least = min(hot_w_k, cold_w_k)
    reached = counterflow_effectiveness(ua_w_k, hot_w_k, cold_w_k) * least / hot_w_k
    return 1.0 - reached, reached * cold_c
