"""Collectors rated by test: quadratic loss about the mean fluid temperature.

ISO 9806:2017, eq. 12 with a3 = a4 = a6 = 0:
``q = eta0 (K_b G_b + K_d G_d) - a1 x - a2 x² - a5 dT_m/dt``, ``x = T_m - T_a``.
Below ambient (x < 0) the quadratic term is left out, so that loss rises with x throughout.
"""

from math import sqrt
from typing import NamedTuple

from heat.compiled import kernel


class RatedCollector(NamedTuple):
    """A field of rated collectors: area (m²), a1 (W/m²K), a2 (W/m²K²), a5 (J/m²K)."""

    area_m2: float
    a1: float
    a2: float
    a5: float


@kernel
def excess_temperature(gain, linear, quadratic):
    """Solve ``quadratic x² + linear x = gain`` for x (K); gain (W/m² or W), coefficients alike.

    The branch that stays finite as quadratic -> 0; linear when gain < 0. linear must be > 0.
    Reference: Press et al., Numerical Recipes, 3rd ed., eq. 5.6.4.
    """
    if gain <= 0.0 or quadratic <= 0.0:
        return gain / linear
    return 2.0 * gain / (linear + sqrt(linear * linear + 4.0 * quadratic * gain))


@kernel
def heat_loss(x, collector):
    """Loss to the air (W/m²) at x = T_m - T_a (K). ISO 9806:2017, eq. 12."""
    if x < 0.0:
        return collector.a1 * x
    return (collector.a1 + collector.a2 * x) * x


@kernel
def standing_temperature(absorbed_w_m2, air_c, mean_c, dt_s, collector):
    """Mean temperature (°C) after dt_s (s) without flow, from mean_c (°C); absorbed sun in W/m².

    Without thermal capacity (a5 = 0) this is the stagnation temperature; with it, one implicit
    Euler step of ISO 9806:2017, eq. 12 at q = 0.
    """
    inertia = collector.a5 / dt_s
    gain = absorbed_w_m2 + inertia * (mean_c - air_c)
    return air_c + excess_temperature(gain, collector.a1 + inertia, collector.a2)


@kernel
def running_temperature(absorbed_w_m2, air_c, mean_c, dt_s, collector, loop_w_k, share, offset_c):
    """Mean and outlet temperature (°C, °C) while the pump runs.

    The rest of the loop answers linearly: ``T_in = share T_out + offset_c`` (share without unit,
    offset in °C) at capacity rate ``loop_w_k`` (W/K). Inserted into
    ``A (S - loss(x)) - A a5 (T_m - T_m0)/dt = C (T_out - T_in)`` one quadratic in x remains.
    Reference: ISO 9806:2017, eq. 12; elimination our own.
    """
    inertia = collector.area_m2 * collector.a5 / dt_s
    carry = 2.0 * loop_w_k * (1.0 - share) / (1.0 + share)
    brought = 2.0 * loop_w_k * offset_c / (1.0 + share)
    gain = collector.area_m2 * absorbed_w_m2 + inertia * (mean_c - air_c) + brought - carry * air_c
    linear = collector.area_m2 * collector.a1 + inertia + carry
    new_mean = air_c + excess_temperature(gain, linear, collector.area_m2 * collector.a2)
    return new_mean, (2.0 * new_mean - offset_c) / (1.0 + share)
