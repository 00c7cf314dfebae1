"""Stove, rooms, heavy floor, following stores and pump curves held against small programs of their own."""

from collections.abc import Callable, Iterator
from dataclasses import replace
from math import exp, pi

import numpy as np
from scipy.integrate import solve_ivp
from scipy.optimize import brentq

from heat.demand.rooms import fresh_air, heating_watts, share_out
from heat.design import Design, parse
from heat.design.changing import with_changes
from heat.design.rooms import FreshAir, Heating
from heat.ledger import accounts as acc
from heat.loop.runs import loop_drop_pa, loop_flow_kg_h, riser_passage
from heat.loop.stove import jacket_answer
from heat.simulation.prepare_uses import prepare_stove
from heat.simulation.year import simulate
from heat.store.vessel import store_volume_l
from heat.tests.claims import Row
from heat.tests.samples import clear_year, example


def water_kg_m3(c: float) -> float:
    """Kell (1975)."""
    top = 999.83952 + 16.945176 * c - 7.9870401e-3 * c**2 - 46.170461e-6 * c**3 + 105.56302e-9 * c**4
    return (top - 280.54253e-12 * c**5) / (1 + 16.879850e-3 * c)


def water_pa_s(c: float) -> float:
    """Vogel."""
    return 2.414e-5 * 10 ** (247.8 / (c + 273.15 - 140.0))


def document_of(kind: str, **changes: object) -> dict:
    """A kind's example with values at dotted paths (double underscores)."""
    plain = parse(example(kind)).model_dump(mode="json")
    return with_changes(plain, {path.replace("__", "."): value for path, value in changes.items()})


def jackets() -> Iterator[Row]:
    """6 m of 25 mm pipe, store floor 0.3 m above the jacket's, 300 L: drive and friction of laminar and rough flow."""
    source = "independent program: Kell 1975, Vogel, Poiseuille and Blasius"
    design = parse(document_of("pumped_coil", system__backup__stove__fitted=True, system__store__volume_l=300.0))
    stove = prepare_stove(design)._replace(hot_share=1.0, damper_c=1e4)
    tall = 2.2 * (4 * 0.3 / (pi * 2.2)) ** (1 / 3)
    high, low, jacket, cold = 0.3 + 0.4 * tall, 0.3, 0.4, 20.0
    for power in (1000.0, 4000.0, 9000.0):

        def gap(hot: float, power: float = power) -> float:
            flow = power / (4186.0 * (hot - cold))
            weight = water_kg_m3(cold) * low + water_kg_m3(40.0) * (high - low)
            weight -= water_kg_m3(0.5 * (hot + cold)) * jacket + water_kg_m3(hot) * (high - jacket)
            flux = flow / (pi * 0.025**2 / 4)
            reynolds = flux * 0.025 / water_pa_s(hot)
            rough = 0.316 * reynolds**-0.25
            factor = 64 / reynolds if reynolds < 2000 else rough
            if 2000 <= reynolds < 4000:
                factor = 0.032 + (0.316 * 4000**-0.25 - 0.032) * (reynolds - 2000) / 2000
            return weight * 9.80665 - (factor * 6.0 / 0.025 + 8.0) * flux**2 / (2 * water_kg_m3(hot))

        hot = brentq(gap, cold + 0.5, 200.0)
        flow, leaves, _share = jacket_answer(stove, power, cold, 40.0, 300.0)
        if hot < 100.0:
            yield Row(f"stove of {power:g} W by weight, water leaves at, °C", hot, leaves, 0.04 * (hot - cold), source)
            yield Row(
                f"stove of {power:g} W by weight, kg/h",
                3600 * power / (4186 * (hot - cold)),
                3600 * flow,
                0.04 * 3600 * flow,
                source,
            )


def kettles() -> Iterator[Row]:
    """A store below its stove, open to the air: nothing moves, the jacket boils all the fire gives."""
    document = document_of(
        "pumped_coil",
        system__backup__stove__fitted=True,
        system__backup__stove__store_above_m=-9.0,
        system__backup__stove__hot_share=1.0,
        system__backup__stove__damper_c=120.0,
        system__store__open_vented=True,
        site__mains={"source": "monthly", "monthly_c": [10.0] * 12},
    )
    book = simulate(parse(document), clear_year())
    fire = book.total(acc.OWN_STOVE)
    yield Row(
        "jacket without circulation: boiled off of its heat, kWh",
        fire,
        book.total(acc.BOIL_OFF),
        1e-6 * fire,
        "energy balance",
    )
    per_kg = (2.257e6 + 4186 * (99.97 - 10.0)) / 3.6e6
    yield Row(
        "jacket without circulation: water made up, kg",
        fire / per_kg,
        book.boiled_kg(),
        0.01 * fire / per_kg,
        "latent heat 2.257 MJ/kg and warming from 10 °C",
    )


def retained_rooms() -> Iterator[Row]:
    """200 W/K and 12 kWh/K at a steady 0 °C: held at 20, set back by 4 K from 22 to 6 h."""
    source = "independent program: Runge-Kutta through the day, thermostat by event"
    weather = clear_year()
    weather = replace(weather, air_c=np.zeros(8760), ghi_w_m2=np.zeros(8760))
    plain = Heating(fitted=True, loss_w_k=200, base_c=16, room_c=20, storage_kwh_k=12, design_air_c=-10)
    yield Row("held room, W", 200 * 16.0, float(heating_watts(plain, weather, 0)[5000]), 1e-6, "H (base - air)")
    back = plain.model_copy(update={"set_back_k": 4.0})
    watts = heating_watts(back, weather, 0)[24 * 200 : 24 * 201].sum() / 1000
    most, heat, room = 1.5 * 200 * 26.0, 0.0, 20.0
    for _day in range(3):  # from 22 h on: cool freely, hold 16 °C, from 6 h on warm up with all there is, hold 20 °C
        heat, hours = 0.0, 8.0

        def cools(_t: float, y: np.ndarray) -> list[float]:
            return [(200 * (0 - y[0]) + 200 * 4) / 12000]

        low = lambda _t, y: y[0] - 16.0
        low.terminal = True
        run = solve_ivp(cools, (0, hours), [room], events=low, rtol=1e-9, max_step=0.05)
        room = float(run.y[0, -1])
        heat += 200 * (16 - 4) / 1000 * (hours - run.t[-1]) if run.t[-1] < hours - 1e-9 else 0.0

        def warms(_t: float, y: np.ndarray) -> list[float]:
            return [(200 * (0 - y[0]) + 200 * 4 + most) / 12000]

        full = lambda _t, y: y[0] - 20.0
        full.terminal = True
        run = solve_ivp(warms, (0, 16), [room], events=full, rtol=1e-9, max_step=0.05)
        room = float(run.y[0, -1])
        heat += most / 1000 * run.t[-1] + 200 * 16 / 1000 * (16 - run.t[-1])
    yield Row("room set back by night, kWh a day", heat, float(watts), 0.02 * heat, source)
    steady = 24 * 200 * 16 / 1000
    yield Row("what the set-back saves, kWh a day", steady - heat, steady - float(watts), 0.35, source)


def circuits() -> Iterator[Row]:
    """5 kW wanted: floor first up to 4 kW, air first, side by side; and a fresh air of 300 m³/h."""
    wanted = np.full(8760, 5000.0)
    for order, expected in (("after", 1000.0), ("before", 4000.0), ("beside", 2500.0)):
        part = Heating(fitted=True, second={"fitted": True, "order": order, "power_kw": 4.0, "share": 0.5})
        _first, second = share_out(part, wanted)
        yield Row(f"second circuit, {order}, W", expected, float(second[0]), 1e-9, "by hand")
    use = FreshAir(fitted=True, flow_m3_h=300, recovered=0.5, to_c=18, from_c=20)
    watts, _supply, _back = fresh_air(use, np.full(8760, 0.0))
    yield Row(
        "fresh air of 300 m³/h, half recovered, W",
        300 / 3600 * 1.2 * 1000 * 8.0,
        float(watts[0]),
        1e-6,
        "ISO 13789, 1.2 kJ/m³K",
    )


def dark(document: dict) -> Design:
    """The design without taps that matter."""
    return parse(with_changes(document, {"demand.people": 0.5, "demand.litres_per_person_day": 1.0}))


def beds() -> Iterator[Row]:
    """60 m² of sand 0.4 m deep starts at 20 °C in a room of 20, over ground of 10: a dark year cools it."""
    still = np.zeros(8760)
    weather = replace(clear_year(), ghi_w_m2=still, dni_w_m2=still, dhi_w_m2=still)
    document = document_of("combi", demand__heating__slab__fitted=True, system__backup__stove__fitted=False)
    book = simulate(dark(document), weather)
    lost = 60 * 0.4 * 1600 / 3600 * 10.0 * (1 - exp(-60 * 0.12 * 3600 * 8760 / (60 * 0.4 * 1.6e6)))
    # above the ground it leaks to it; its room is no warmer than it, so that the room takes nothing
    shared = 60 * 0.12 / (60 * 0.8 + 60 * 0.12)
    pace = (60 * 0.8 + 60 * 0.12) * 360 / (60 * 0.4 * 1.6e6)
    slower = 1 - shared * (1 - exp(-pace))
    expected = 60 * 0.4 * 1600 / 3600 * 10.0 * (1 - slower**87_600)
    assert abs(expected - lost) < 0.01 * lost
    yield Row(
        "heavy floor, to the ground in a dark year, kWh",
        lost,
        book.total(acc.SLAB_LOSS),
        0.01 * lost,
        "exponential cooling",
    )


def room_coils() -> Iterator[Row]:
    """Rooms by a coil of 500 W/K through a store held at 60 °C by a strong element: 1 - exp(-UA/w) of the lead."""
    document = document_of(
        "combi",
        demand__heating__coil={"fitted": True, "ua_w_k": 500.0, "bottom_share": 0.0, "top_share": 1.0},
        demand__heating__hourly_kw=[6.0] * 24,
        demand__heating__reserve_c=0.0,
        demand__heating__supply_c=60.0,
        demand__heating__return_c=30.0,
        demand__heating__exponent=1.0,
        system__backup__stove__fitted=False,
        system__backup__boiler__fitted=False,
        system__store__loss_w_k=0.0,
        system__store__conductivity_w_mk=20.0,
        system__backup__element={
            "fitted": True,
            "power_kw": 400.0,
            "height_share": 0.0,
            "sensor_share": 0.0,
            "set_c": 60.0,
            "hysteresis_k": 0.5,
        },
        system__control__season_from_day=1,
        system__control__season_to_day=1,
    )
    book = simulate(dark(document), clear_year())
    day = slice(24 * 200, 24 * 201)
    store = float(book.profile[day].mean())
    rate = 6000.0 / 30.0
    expected = min(rate * (1 - exp(-500.0 / rate)) * (store - 30.0), 6000.0)
    yield Row(
        "rooms by their own coil, W",
        expected,
        float(book.books[day, acc.STORE_TO_HEATING].mean()),
        0.03 * expected,
        "counterflow with an even store",
    )


def following() -> Iterator[Row]:
    """A batch tank at rest fills a second store: what passes has the mean of a stirred tank being refilled."""
    still = np.zeros(8760)
    weather = replace(clear_year(), ghi_w_m2=still, dni_w_m2=still, dhi_w_m2=still, air_c=still + 20.0)
    document = document_of(
        "batch_tank",
        system__second_store={"fitted": True, "volume_l": 50.0, "loss_w_k": 0.0, "start_c": 70.0, "count": 2},
        system__store__start_c=60.0,
        system__integral__back_w_m2k=0.0,
        demand__counted="person",
        system__collector__a1_w_m2k=0.3,
        system__collector__a2_w_m2k2=0.0,
        system__collector__a4=0.0,
        demand__hour_shape=[1.0] + [0.0] * 23,
        demand__people=1.0,
        demand__litres_per_person_day=100.0,
        demand__tap_c=30.0,
        system__tempering_valve=False,
        demand__pattern="shape",
        demand__leaks_l_day=0.0,
        site__mains={"source": "monthly", "monthly_c": [10.0] * 12},
        **{f"system__backup__{name}__fitted": False for name in ("tankless", "element", "boiler")},
    )
    design = parse(document)
    book = simulate(design, weather)
    current = store_volume_l(design)
    expected = 10 + 50 * current / 100 * (1 - exp(-100 / current))
    yield Row(
        "batch tank fills two calorifiers of 50 L, °C",
        expected,
        float(book.second_profile[0].mean()),
        0.6,
        "stirred tank, exponential refill",
    )


def serpentines() -> Iterator[Row]:
    """Two collectors of one winding tube, 18 m of 10 mm bore: side by side, one after the other; and a pump's curve."""
    source = "Hagen-Poiseuille by hand, and the coil’s typed loss"
    changes = {
        "system__collector__tubes_inside": 1,
        "system__collector__tube_bore_mm": 10.0,
        "system__collector__tube_length_m": 18.0,
        "system__loop__glycol_percent": 0.0,
        "system__loop__geometry__fittings": 0.0,
        "system__loop__supply_pipe__length_m": 0.0,
        "system__loop__return_pipe__length_m": 0.0,
    }
    viscosity, density = 0.653e-3, 992.2  # water at 40 °C
    for in_row, length, lanes in ((1, 18.0, 2), (2, 36.0, 1)):
        design = parse(document_of("pumped_coil", system__collector__in_series=in_row, **changes))
        flux = 20.0 / 3600 / lanes / (pi * 0.01**2 / 4)
        coil = 3000 * (20 / 200) ** 2  # typed: 3 kPa at 200 kg/h, growing with the square
        expected = 32 * viscosity * length * flux / (density * 0.01**2) + in_row * flux**2 / density + coil
        name = f"serpentines, {in_row} in a row, drop at 20 kg/h, Pa"
        yield Row(name, expected, loop_drop_pa(design, 20.0), 0.03 * expected, source)
    yield Row("serpentines in a row, true length, m", 36.0, riser_passage(design).length_m, 1e-9, "18 m each")
    curve = [{"flow_kg_h": 0.0, "head_m": 0.2}, {"flow_kg_h": 100.0, "head_m": 0.0}]
    pumped = parse(
        document_of("pumped_coil", system__collector__in_series=1, system__loop__drive__curve=curve, **changes)
    )

    def gap(flow: float) -> float:
        flux = flow / 3600 / 2 / (pi * 0.01**2 / 4)
        drop = 32 * viscosity * 18 * flux / (density * 0.01**2) + flux**2 / density
        drop += 3000 * (flow / 200) ** 2
        return 0.2 * (1 - flow / 100) * density * 9.80665 - drop

    expected = brentq(gap, 0.1, 100)
    yield Row("pump's curve meets the loop at, kg/h", expected, loop_flow_kg_h(pumped), 0.02 * expected, source)


ROOM_CHECKS: tuple[Callable[[], Iterator[Row]], ...] = (
    jackets,
    kettles,
    retained_rooms,
    circuits,
    beds,
    room_coils,
    following,
    serpentines,
)
