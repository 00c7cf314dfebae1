"""Collectors rated by test: quadratic loss about the mean fluid temperature.

ISO 9806:2017, eq. 12: ``q = eta0 (K_b G_b + K_d G_d) - a1 x - a2 x² - a5 dT_m/dt``, ``x = T_m - T_a``.
Wind (a3, a6) and sky (a4) enter hour by hour: the first as part of a1, the others as part of the
absorbed sun. Below ambient (x < 0) the quadratic term is left out, so that loss rises with x throughout.
"""

from math import exp, sqrt
from typing import NamedTuple

from heat.common.compiled import inline_kernel, kernel


class RatedCollector(NamedTuple):
    """A field of rated collectors: area (m²), a2 (W/m²K²), a5 (J/m²K); a1 changes with the wind."""

    area_m2: float
    a2: float
    a5: float


@inline_kernel
def excess_temperature(gain: float, linear: float, quadratic: float) -> float:
    """Solve ``quadratic x² + linear x = gain`` for x (K).

    The branch that stays finite as quadratic -> 0; linear when gain < 0. linear must be > 0.

    Parameters
    ----------
    gain
        Heat gained (W or W/m²).
    linear
        Linear coefficient (W/K or W/m²K).
    quadratic
        Quadratic coefficient (W/K² or W/m²K²).

    Returns
    -------
    float
        The temperature above the air's (K).

    References
    ----------
    Press et al., Numerical Recipes, 3rd ed., eq. 5.6.4.
    """
    if gain <= 0.0 or quadratic <= 0.0:
        return gain / linear
    return 2.0 * gain / (linear + sqrt(linear * linear + 4.0 * quadratic * gain))


@inline_kernel
def heat_loss(x: float, a1: float, a2: float) -> float:
    """Loss to the air (W/m²) at x = T_m - T_a (K), a1 (W/m²K), a2 (W/m²K²).

    ISO 9806:2017, eq. 12.

    Parameters
    ----------
    x
        Mean fluid temperature above the air's (K).
    a1
        Linear heat loss coefficient (W/m²K).
    a2
        Quadratic heat loss coefficient (W/m²K²).

    Returns
    -------
    float
        Loss to the air (W/m²).
    """
    if x < 0.0:
        return a1 * x
    return (a1 + a2 * x) * x


@inline_kernel
def stagnation_temperature(
    absorbed_w_m2: float, air_c: float, mean_c: float, dt_s: float, a1: float, collector: RatedCollector
) -> float:
    """Mean temperature (°C) after dt_s (s) without flow, from mean_c (°C).

    Exact for any step: with u the distance to the balance, ``a5 du/dt = -D u - a2 u²`` and ``D = sqrt(a1² + 4 a2
    S)``, of which ``u = D u0 e/(D + a2 u0 (1 - e))``, ``e = exp(-D t/a5)``. Without thermal capacity (a5 = 0) this
    is the stagnation temperature. ISO 9806:2017, eq. 12 at q = 0.

    Parameters
    ----------
    absorbed_w_m2
        Absorbed sun (W/m²).
    air_c
        Outdoor air (°C).
    mean_c
        Mean temperature of the fluid (°C).
    dt_s
        Length of the step (s).
    a1
        Linear heat loss coefficient (W/m²K).
    collector
        The collector.

    Returns
    -------
    float
        Mean temperature (°C) after dt_s (s) without flow, from mean_c (°C).
    """
    balance = excess_temperature(absorbed_w_m2, a1, collector.a2)
    if collector.a5 <= 0.0:
        return air_c + balance
    start = mean_c - air_c
    if start < 0.0 or absorbed_w_m2 < 0.0 or collector.a2 <= 0.0:
        goal = absorbed_w_m2 / a1
        return air_c + goal + (start - goal) * exp(-a1 * dt_s / collector.a5)
    pace = sqrt(a1 * a1 + 4.0 * collector.a2 * absorbed_w_m2)
    left = exp(-pace * dt_s / collector.a5)
    away = start - balance
    return air_c + balance + pace * away * left / (pace + collector.a2 * away * (1.0 - left))


@inline_kernel
def outlet_weight(area_m2: float, a1: float, loop_w_k: float) -> float:
    """Weight of the outlet in the mean temperature along a field (0.5 to 1, no unit).

    Half where much passes; fluid that creeps has long come to rest with sun and air when it leaves. The exponential
    profile of N = A a1/C has the mean ``w T_out + (1 - w) T_in``, ``w = 1/(1 - exp(-N)) - 1/N``.

    Parameters
    ----------
    area_m2
        Area (m²).
    a1
        Linear heat loss coefficient (W/m²K).
    loop_w_k
        Heat capacity rate of the loop (W/K).

    Returns
    -------
    float
        Weight of the outlet in the mean temperature along a field (0.5 to 1, no unit).

    References
    ----------
    Duffie & Beckman, 4th ed., sec. 6.5, averaged over the length.
    """
    units = area_m2 * a1 / loop_w_k
    if units < 0.05:
        return 0.5 + units / 12.0
    return 1.0 / (1.0 - exp(-units)) - 1.0 / units


@inline_kernel
def running_temperature(
    absorbed_w_m2: float,
    air_c: float,
    mean_c: float,
    dt_s: float,
    a1: float,
    collector: RatedCollector,
    loop_w_k: float,
    share: float,
    offset_c: float,
    weight: float = 0.5,
) -> tuple[float, float]:
    """Mean and outlet temperature (°C, °C) while fluid passes.

    The rest of the loop answers linearly: ``T_in = share T_out + offset_c`` (share without unit, offset in °C) at
    capacity rate ``loop_w_k`` (W/K). Inserted into ``A (S - loss(x)) - A a5 (T_m - T_m0)/dt = C (T_out - T_in)``
    one quadratic in x remains.

    Parameters
    ----------
    absorbed_w_m2
        Absorbed sun (W/m²).
    air_c
        Outdoor air (°C).
    mean_c
        Mean temperature of the fluid (°C).
    dt_s
        Length of the step (s).
    a1
        Linear heat loss coefficient (W/m²K).
    collector
        The collector.
    loop_w_k
        Heat capacity rate of the loop (W/K).
    share
        Share of the outlet in the loop's linear answer (no unit).
    offset_c
        Offset of the loop's answer (°C).
    weight
        Of the outlet in the mean, see :func:`outlet_weight` (no unit).

    Returns
    -------
    tuple[float, float]
        Mean and outlet temperature (°C, °C) while fluid passes.

    References
    ----------
    ISO 9806:2017, eq. 12; elimination our own.
    """
    inertia = collector.area_m2 * collector.a5 / dt_s
    # mean = weight T_out + (1 - weight) T_in, T_in as the loop answers
    slope = weight + (1.0 - weight) * share
    rest_c = (1.0 - weight) * offset_c
    carry = loop_w_k * (1.0 - share) / slope
    gain = collector.area_m2 * absorbed_w_m2 + inertia * (mean_c - air_c)
    gain += loop_w_k * offset_c + carry * (rest_c - air_c)
    linear = collector.area_m2 * a1 + inertia + carry
    new_mean = air_c + excess_temperature(gain, linear, collector.area_m2 * collector.a2)
    return new_mean, (new_mean - rest_c) / slope


@kernel
def series_temperature(
    absorbed: float,
    absorbed_2: float,
    air_c: float,
    mean_c: float,
    mean_2_c: float,
    dt_s: float,
    a1: float,
    a1_2: float,
    first: RatedCollector,
    second: RatedCollector,
    loop_w_k: float,
    share: float,
    offset_c: float,
    inlet_c: float,
    creeps: bool,
) -> tuple[float, float, float, float, float]:
    """Two unlike groups in series: means and outlets (°C) of both, and the inlet (°C) they agree on.

    Each group solves its own quadratic for a given inlet; the inlet is found by secants, as the answer of the loop
    is nearly straight. absorbed (W/m²), a1 (W/m²K), loop_w_k (W/K), share (no unit), offset_c and the first trial
    inlet_c (°C), dt_s (s).

    Parameters
    ----------
    absorbed
        Absorbed sun of the first group (W/m²).
    absorbed_2
        Absorbed sun of the second group (W/m²).
    air_c
        Outdoor air (°C).
    mean_c
        Mean temperature of the first group (°C).
    mean_2_c
        Mean temperature of the second group (°C).
    dt_s
        Length of the step (s).
    a1
        Linear heat loss coefficient of the first group (W/m²K).
    a1_2
        Linear heat loss coefficient of the second group (W/m²K).
    first
        The first group.
    second
        The second group.
    loop_w_k
        Heat capacity rate of the loop (W/K).
    share
        Share of the outlet in the loop's linear answer (no unit).
    offset_c
        Offset of the loop's answer (°C).
    inlet_c
        First trial of the inlet (°C).
    creeps
        The fluid goes by its own weight, see :func:`outlet_weight`.

    Returns
    -------
    tuple
        Mean and outlet of the first group, of the second (°C), and the inlet they agree on (°C).
    """
    trial = inlet_c
    last_trial = 0.0
    last_gap = 0.0
    mean = outlet = second_mean = second_outlet = trial
    weight = outlet_weight(first.area_m2, a1, loop_w_k) if creeps else 0.5
    weight_2 = outlet_weight(second.area_m2, a1_2, loop_w_k) if creeps else 0.5
    for turn in range(30):
        mean, outlet = running_temperature(absorbed, air_c, mean_c, dt_s, a1, first, loop_w_k, 0.0, trial, weight)
        second_mean, second_outlet = running_temperature(
            absorbed_2, air_c, mean_2_c, dt_s, a1_2, second, loop_w_k, 0.0, outlet, weight_2
        )
        gap = share * second_outlet + offset_c - trial
        if abs(gap) < 1e-10 * (1.0 + abs(trial)):
            break
        slope = share - 1.0 if turn == 0 or trial == last_trial else (gap - last_gap) / (trial - last_trial)
        if slope > -1e-6:
            slope = -1e-6 - (1.0 - share)
        last_trial = trial
        last_gap = gap
        trial -= gap / slope
    return mean, outlet, second_mean, second_outlet, trial
