"""Loops held against independent programs: creeping by night."""

from collections.abc import Callable, Iterator
from dataclasses import replace
from math import exp, log, pi, sin

import numpy as np
from scipy.optimize import brentq

from heat.demand.draw_coil import draw_coil_ua_w_k
from heat.design import parse
from heat.design.system import DrawCoil
from heat.ledger import accounts as acc
from heat.loop.coil import Coil
from heat.simulation.parts import TapPart
from heat.simulation.taps import draw_through_coil
from heat.simulation.year import simulate
from heat.store.layers import LayeredStore
from heat.tests.claims import Row
from heat.tests.samples import clear_year, example


def _water_kg_m3(celsius: np.ndarray) -> np.ndarray:
    """Kell (1975), J. Chem. Eng. Data 20, 97-105, eq. 16: density of water at 1 atm (kg/m³)."""
    t = celsius
    above = 999.83952 + 16.945176 * t - 7.9870401e-3 * t**2 - 46.170461e-6 * t**3 + 105.56302e-9 * t**4
    above = above - 280.54253e-12 * t**5
    return np.asarray(above / (1.0 + 16.879850e-3 * t))


def _viscosity_pa_s(celsius: float) -> float:
    """Vogel's equation for water, 0 to 100 °C (Viswanath et al. 2007, Viscosity of Liquids, ch. 4), Pa s."""
    return 1e-3 * exp(-3.7188 + 578.919 / (celsius + 273.15 - 137.546))


def creep(store_c: float, air_c: float, store_top: float, store_low: float) -> tuple[float, float]:
    """Flow (kg/h) and heat (W) that leave a warm jacket by night through cold collectors, in a steady state.

    Each leg's profile is exponential; its weight is summed over four hundred slices. The loop of the sealed example
    with water; heights (m) above the collectors' lower edge.
    """
    slope, top = 2.0, 2.0 * sin(38 * pi / 180)
    pipe_w_mk = 1.0 / (log(33.0 / 14.0) / (2 * pi * 0.04) + 1.0 / (2 * pi * 0.033 * 10.0))
    legs = (  # from the jacket's upper connection down and up again: height from, to, W/K, surroundings
        (store_top, top, 1.5 * pipe_w_mk, air_c),
        (top, 0.0, 4.0 * 3.6, air_c),
        (0.0, store_low, 3.0 * pipe_w_mk, air_c),
        (store_low, store_top, 280.0, store_c),
    )

    def round_once(flow: float) -> tuple[float, float]:
        rate = flow * 4186.0
        share, offset = 1.0, 0.0
        for _from, _to, pull, around in legs:
            retention = exp(-pull / rate)
            share, offset = share * retention, offset * retention + around * (1 - retention)
        warm = offset / (1 - share)
        weight, warmth = 0.0, warm
        for start, end, pull, around in legs:
            places = (np.arange(400) + 0.5) / 400
            along = around + (warmth - around) * np.exp(-pull / rate * places)
            weight += float(np.mean(_water_kg_m3(along))) * 9.80665 * (start - end)
            warmth = around + (warmth - around) * exp(-pull / rate)
            if start == 0.0:
                cold = warmth
        middle = 0.5 * (warm + cold)
        thick = _viscosity_pa_s(middle)
        friction = 0.0
        for length, bore, tubes, fittings in ((4.5, 0.026, 1, 8.0), (slope, 0.008, 16, 2.0)):
            flux = flow / (tubes * pi * bore**2 / 4)
            friction += 32 * thick * length * flux / (1000 * bore**2) + fittings * flux**2 / 2000
        return weight - friction, rate * (warm - cold)

    flow = brentq(lambda m: round_once(m)[0], 2e-6, 0.05, xtol=1e-9)
    return 3600.0 * flow, round_once(flow)[1]


def nights() -> Iterator[Row]:
    """A still, dark, cold year about a big warm tank: what creeps round its jacket loop without a valve."""
    source = "independent program: exponential legs weighed in slices; Kell 1975, Vogel"
    document = example("thermosiphon_sealed")
    document["demand"] = {"people": 0.5, "litres_per_person_day": 1}
    document["system"]["loop"]["glycol_percent"] = 0
    document["system"]["store"] |= {"volume_l": 2000, "loss_w_k": 0.0, "height_to_width": 0.3, "start_c": 55}
    steady = np.ones(8760)
    weather = replace(clear_year(), ghi_w_m2=0 * steady, dni_w_m2=0 * steady, dhi_w_m2=0 * steady, air_c=8 * steady)
    for bottom in (0.1, 0.6):
        document["system"]["loop"]["geometry"] = {"store_bottom_m": bottom}
        design = parse(document)
        book = simulate(design, weather)
        width = (4 * 2.0 / (pi * 0.3)) ** (1 / 3)
        low, high = (2.0 * sin(38 * pi / 180) + bottom + share * 0.3 * width for share in (0.1, 0.8))
        day = slice(30, 42)
        store_c = float(book.profile[day, 2:16].mean())
        flow, heat = creep(store_c, 8.0, high, low)
        name = f"night creep, store {bottom:g} m above the collectors"
        yield Row(f"{name}, kg/h", -flow, float(book.traces[day, acc.FLOW_KG_H].mean()), 0.1 * flow, source)
        yield Row(f"{name}, W", -heat, float(book.books[day, acc.INTO_STORE].mean()), 0.1 * heat, source)


def draw_coils() -> Iterator[Row]:
    """20 m of 22 mm tube at 8 L/min; and what stood in a coil comes at the store's temperature."""
    source = "by hand: Dittus-Boelter inside, wall, McAdams' Nu = 0.53 Ra^0.25 outside"
    for material, wall_w_mk, outer, wall in (("copper", 380.0, 22.0, 1.0), ("multilayer", 0.43, 20.0, 2.0)):
        bore = outer - 2 * wall
        # water at 30 °C: 0.798 mPa s, 0.615 W/mK, Pr 5.42; at 50 °C: 0.547, 0.641, 3.55, swelling 4.58e-4 1/K
        reynolds = 4 * (8.0 / 60.0) / (pi * bore * 1e-3 * 0.798e-3)
        inside = 0.023 * reynolds**0.8 * 5.42**0.4 * 0.615 / (bore * 1e-3)
        rayleigh = 9.81 * 4.58e-4 * 20.0 * (outer * 1e-3) ** 3 / (0.547e-3 / 988.0) ** 2 * 3.55
        outside = 0.53 * rayleigh**0.25 * 0.641 / (outer * 1e-3)
        resistance = 1 / (pi * bore * 1e-3 * inside) + log(outer / bore) / (2 * pi * wall_w_mk)
        expected = 20.0 / (resistance + 1 / (pi * outer * 1e-3 * outside))
        coil = DrawCoil(measured=True, material=material, outer_mm=outer, wall_mm=wall)  # type: ignore[arg-type]
        yield Row(f"draw coil of {material}, W/K", expected, draw_coil_ua_w_k(coil), 0.2 * expected, source)
    tap = TapPart(True, 0.0, Coil(50.0, 0.0, 1.0), 8.0 / 60.0 * 4186.0, 1.0)
    temperature, mass, work = np.full(40, 50.0), np.full(40, 15.0), np.zeros((2, 40))
    store = LayeredStore(300.0, 20, 0.0, 20.0, 0.0, False)
    drawn, short, _above, _kg = draw_through_coil(tap, 1.0, 3.0, 45.0, 10.0, store, temperature, mass, 20, *work)
    yield Row("3 L that stood in a poor coil, short, kJ", 0.0, short / 1000.0, 1.0, "definition")
    yield Row("3 L that stood in a poor coil, kJ", 3 * 4.186 * 35.0, drawn / 1000.0, 1.0, "heat capacity of water")


LOOP_CHECKS: tuple[Callable[[], Iterator[Row]], ...] = (nights, draw_coils)
