"""The plant: ten seconds a step, many nodes, a coil whose transfer follows the flow, pipes with capacity, sensors that
lag.

Nothing of the engine is used. Collector by its curve in nodes along the flow; pipes as nodes; a store of forty nodes
with inlet mixing; a controller of two sensors; natural flow by weight. Finite volumes, upwind, implicit in the flow.
"""

from dataclasses import dataclass, field

import numpy as np
from numba import njit
from numpy.typing import NDArray

Array = NDArray[np.float64]
STEP_S = 10.0
COLLECTOR, PIPE, TANK = 10, 8, 40
WATER = 4186.0
COIL, SIPHON, POOL = 0, 1, 2


@dataclass
class Plant:
    """What was built (SI units; temperatures in °C), and what is wrong with it."""

    kind: int = COIL
    drains: bool = False
    area_m2: float = 4.6
    eta0: float = 0.77
    a1: float = 3.6
    a2: float = 0.012
    b0: float = 0.1
    heat_j_m2k: float = 8000.0
    tilt_deg: float = 45.0
    azimuth_deg: float = 180.0
    latitude_deg: float = 46.4
    longitude_deg: float = -11.6
    albedo: float = 0.2
    flow_kg_s: float = 0.058
    fluid_j_kgk: float = 3700.0
    pipe_m: float = 12.0
    pipe_w_mk: float = 0.2
    pipe_j_mk: float = 1200.0
    pipe_outdoors: float = 0.3
    tank_l: float = 300.0
    tank_w_k: float = 2.0
    room_c: float = 18.0
    coil_w_k: float = 300.0
    coil_low: float = 0.05
    coil_high: float = 0.45
    on_k: float = 7.0
    off_k: float = 4.0
    limit_c: float = 85.0
    sensor_share: float = 0.1
    tap_c: float = 45.0
    pool_m2: float = 32.0
    pool_m3: float = 45.0
    pool_w_m2k: float = 9.0
    pool_limit_c: float = 31.0
    rise_m: float = 1.0
    friction: float = 20_000.0
    lag_s: float = 45.0
    inlet_nodes: int = 3
    conduction: float = 1.2
    # what is wrong
    air: bool = False
    valve: bool = False
    flow_factor: float = 1.0
    collector_off_k: float = 0.0
    store_off_k: float = 0.0
    feels: float = 1.0
    sits_at: float = -1.0
    dirt: float = 0.0
    tree_deg: float = 0.0
    bundled_w_mk: float = 0.0
    cooked: float = 0.0
    element_c: float = 0.0
    boiler_c: float = 0.0
    boiler_w: float = 12_000.0
    boiler_set_c: float = 60.0
    pump_forced: bool = False
    heights: tuple[float, ...] = field(default=(0.05, 0.85))


@njit(cache=True)
def _heavier(a: float, b: float) -> float:
    """Density of water at a less that at b (kg/m³), by its slope about their mean."""
    middle = 0.5 * (a + b)
    return (b - a) * (0.06 + 0.0072 * middle)


@njit(cache=True)
def _run(
    kind, drains, area, a1, a2, heat, flow, cp, pipe_m, pipe_ua, pipe_heat, outdoors, bundled, tank_kg, tank_ua, room,
    coil_ua, coil_low, coil_high, on_k, off_k, limit_c, control_at, tap_c, pool_m2, pool_kg, pool_u, pool_limit, rise,
    friction, lag_s, inlet_nodes, conduction, air_lock, valve, col_off, store_off, feels, element_c, boiler_c, boiler_w,
    forced, sun, level, air, mains, draw, hour, start_c, out,
):  # fmt: skip
    """Steps through all moments; ``out``: collector sensor, pump, supply, return, flow, then the tank's nodes."""
    dt = STEP_S
    nc, npipe, nt = COLLECTOR, PIPE, TANK
    col = np.full(nc, air[0])
    hot = np.full(npipe, room)
    cold = np.full(npipe, room)
    tank = start_c.copy()
    pool = start_c[0]
    node_kg = tank_kg / nt
    sensor = air[0]
    low_sensor = tank[min(int(control_at * nt), nt - 1)]
    running = False
    full = False
    filled = 0.0
    lag = dt / (lag_s + dt)
    k_lo, k_hi = int(coil_low * nt), max(int(coil_high * nt), int(coil_low * nt) + 1)
    c_node = area * heat / nc
    for n in range(sun.size):
        around = outdoors * air[n] + (1.0 - outdoors) * room
        # the controller
        felt = air[n] + feels * (col[nc - 1] - air[n]) + col_off
        sensor += lag * (felt - sensor)
        if kind == POOL:
            low_true = pool
        else:
            low_true = tank[min(int(control_at * nt), nt - 1)]
        low_sensor += lag * (low_true + store_off - low_sensor)
        if kind == POOL:
            full = pool > pool_limit
        else:
            top = tank[nt - 1]
            full = top > limit_c if not full else top > limit_c - 3.0
        clock = hour[n] % 24.0
        night = clock < 6.0 or clock >= 22.0
        if kind != SIPHON:
            if running:
                running = sensor - low_sensor > off_k and not full
            else:
                running = sensor - low_sensor > on_k and not full
            if forced and night:
                running = True
        pump = 1.0 if running and kind != SIPHON else 0.0
        m = flow if pump > 0.0 else 0.0
        if air_lock:
            m = 0.0
        if drains:
            filled = min(filled + dt, 90.0) if pump > 0.0 else 0.0
            if filled < 60.0:
                m = 0.0
        backwards = False
        if kind == SIPHON:
            riser = hot.mean()
            mean_col = col.mean()
            tank_mean = tank.mean()
            drive = 9.81 * (rise * _heavier(cold.mean(), riser) + 0.6 * _heavier(tank_mean, mean_col))
            m = drive / friction
            if m < 0.0:
                backwards = True
                m = -m if valve else 0.0
            m = min(m, 0.5 * node_kg / dt)
            if air_lock:
                m = 0.0
        elif m == 0.0 and valve and not drains and kind == COIL:
            drive = 9.81 * 3.0 * _heavier(col.mean(), tank[k_lo:k_hi].mean())
            if drive > 0.0:
                m = drive / friction
                backwards = True
        w = m * cp
        # collector, pipes and store, along the flow
        inlet = cold[npipe - 1]
        if backwards:
            inlet = hot[0]
        for j in range(nc):
            i = nc - 1 - j if backwards else j
            over = col[i] - air[n]
            gain = area / nc * (sun[n] - a2 * over * abs(over))
            ua = area / nc * a1
            col[i] = (c_node * col[i] + dt * (gain + ua * air[n] + w * inlet)) / (c_node + dt * (ua + w))
            inlet = col[i]
        leaving = col[0] if backwards else col[nc - 1]
        first, second = (cold, hot) if backwards else (hot, cold)
        value = leaving
        cap = pipe_heat * pipe_m / npipe
        loss = pipe_ua * pipe_m / npipe
        cross = bundled * pipe_m / npipe
        for j in range(npipe):
            i = npipe - 1 - j if backwards else j
            other = second[npipe - 1 - i]
            first[i] = (cap * first[i] + dt * (loss * around + w * value + cross * other)) / (
                cap + dt * (loss + w + cross)
            )
            value = first[i]
        given = 0.0
        if kind == POOL:
            back = value
            if w > 0.0:
                pool += w * dt * (value - pool) / (pool_kg * WATER)
                back = pool
        elif kind == SIPHON:
            back = value
            if m > 0.0:
                kg = m * dt
                if backwards:
                    back = tank[nt - 2]
                    for i in range(nt - 2, 0, -1):
                        tank[i] += kg / node_kg * (tank[i - 1] - tank[i])
                    tank[0] += kg / node_kg * (value - tank[0])
                else:
                    back = tank[0]
                    enter = int(0.85 * nt)
                    for i in range(enter):
                        tank[i] += kg / node_kg * (tank[i + 1] - tank[i])
                    tank[enter] += kg / node_kg * (value - tank[enter])
        else:
            back = value
            if w > 0.0:
                share = coil_ua * (m / flow) ** 0.35 / (k_hi - k_lo)
                for j in range(k_hi - k_lo):
                    i = k_lo + j if backwards else k_hi - 1 - j
                    q = w * (back - tank[i]) * (1.0 - np.exp(-share / w))
                    tank[i] += q * dt / (node_kg * WATER)
                    back -= q / w
                    given += q
        value = back
        for j in range(npipe):
            i = npipe - 1 - j if backwards else j
            other = first[npipe - 1 - i]
            second[i] = (cap * second[i] + dt * (loss * around + w * value + cross * other)) / (
                cap + dt * (loss + w + cross)
            )
            value = second[i]
        # heaters that should not be there
        if element_c > 0.0 and kind != POOL and tank[2] < element_c:
            tank[1] += 3000.0 * dt / (node_kg * WATER)
        if boiler_c > 0.0 and kind != POOL and night and tank[int(0.12 * nt)] < boiler_c:
            for i in range(2, nt // 2):
                tank[i] += boiler_w * dt / (node_kg * WATER * (nt // 2 - 2))
        # the tap
        if kind != POOL and draw[n] > 0.0:
            top = tank[nt - 1]
            share = 1.0 if top <= tap_c else (tap_c - mains) / max(top - mains, 1.0)
            kg = draw[n] * share
            for i in range(nt - 1, inlet_nodes - 1, -1):
                tank[i] += kg / node_kg * (tank[i - 1] - tank[i])
            mixed = 0.0
            for i in range(inlet_nodes):
                mixed += tank[i]
            mixed = mixed / inlet_nodes
            mixed += kg / (node_kg * inlet_nodes) * (mains - mixed)
            for i in range(inlet_nodes):
                tank[i] = mixed
        # losses, conduction, mixing of what is upside down
        if kind == POOL:
            damp = 0.611 * np.exp(17.3 * pool / (pool + 237.3)) - 0.65 * 0.611 * np.exp(
                17.3 * air[n] / (air[n] + 237.3)
            )
            lost = pool_u * (pool - air[n]) + 70.0 * damp + 50.0
            pool += dt * pool_m2 * (0.85 * level[n] - lost) / (pool_kg * WATER)
        else:
            for i in range(nt):
                edge = 2.0 if i == 0 or i == nt - 1 else 1.0
                tank[i] -= dt * tank_ua * edge / (nt + 2) * (tank[i] - room) / (node_kg * WATER)
            for i in range(nt - 1):
                q = conduction * (tank[i + 1] - tank[i]) * dt / (node_kg * WATER)
                tank[i] += q
                tank[i + 1] -= q
            for i in range(nt):
                tank[i] = min(tank[i], 98.0)  # it boils over
            for i in range(nt - 1):
                j = i
                while j >= 0 and tank[j] > tank[j + 1] + 1e-6:
                    middle = 0.5 * (tank[j] + tank[j + 1])
                    tank[j] = middle
                    tank[j + 1] = middle
                    j -= 1
        out[n, 0] = sensor
        out[n, 1] = pump
        out[n, 2] = hot[npipe - 1]
        out[n, 3] = cold[0]
        out[n, 4] = -m if backwards else m
        out[n, 5] = low_sensor
        if kind == POOL:
            out[n, 6:] = pool
        else:
            for i in range(nt):
                out[n, 6 + i] = tank[i]


def run(
    plant: Plant, sun: Array, level: Array, air: Array, mains_c: float, draw: Array, hour: Array, start_c: float
) -> Array:
    """All moments of a plant (10 s apart): collector sensor (°C), pump (0 or 1), supply and return (°C), flow (kg/s),
    the controller's store sensor (°C), and the store's nodes from the floor up (°C).

    ``sun``: absorbed for each m², ``level``: on the level (W/m²); ``draw``: at the tap in each step (kg); ``hour``: of
    the year (h).
    """
    made = np.zeros((sun.size, 6 + TANK))
    spent = plant.cooked
    flow = plant.flow_kg_s * plant.flow_factor * (1.0 - 0.6 * spent)
    capacity = plant.pipe_j_mk
    at = plant.sensor_share if plant.sits_at < 0.0 else plant.sits_at
    start = np.linspace(start_c - 8.0, start_c + 8.0, TANK) if plant.kind != POOL else np.full(TANK, start_c)
    _run(
        plant.kind, plant.drains, plant.area_m2, plant.a1, plant.a2, plant.heat_j_m2k, flow, plant.fluid_j_kgk,
        plant.pipe_m, plant.pipe_w_mk, capacity, plant.pipe_outdoors, plant.bundled_w_mk, plant.tank_l, plant.tank_w_k,
        plant.room_c, plant.coil_w_k * (1.0 - 0.5 * spent), plant.coil_low, plant.coil_high, plant.on_k, plant.off_k,
        plant.limit_c, min(at, 0.99), plant.tap_c, plant.pool_m2, 1000.0 * plant.pool_m3, plant.pool_w_m2k,
        plant.pool_limit_c, plant.rise_m, plant.friction, plant.lag_s, plant.inlet_nodes, plant.conduction, plant.air,
        plant.valve, plant.collector_off_k, plant.store_off_k, plant.feels, plant.element_c, plant.boiler_c,
        plant.boiler_w, plant.pump_forced, sun, level, air, mains_c, draw, hour, start, made,
    )  # fmt: skip
    return made
