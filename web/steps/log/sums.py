"""Sums of what was read, each with its steps and uncertainty: layers, flow, the gap, runs, a "
"bucket, a night, a draw."""

from datetime import datetime
from typing import Any

import numpy as np

from heat.errors import HeatError
from heat.monitoring.balance import by_day, drawn_kwh, flowed, gap, runs
from heat.monitoring.layers import careless, filled, gain
from heat.monitoring.trials import bucket, cooling, draw_off
from heat.store.vessel import store_loss_w_k
from web.editor.design_page import DesignPage
from web.logs.models import hour_of, moment_of
from web.steps.log.current import Here, frame, here, log_here
from web.steps.log.day import sound_days
from web.steps.log.typed import words_of
from web.ui import units
from web.ui.calendar import date_of
from web.ui.rows import Row

NEAR_H = 0.5
"""A reading so near a moment (h) counts as read then."""
WAYS = {
    "straight": "straight between its neighbours",
    "neighbour": "as its neighbour",
    "simulated": "as calculated",
    "left out": "left out of the sum",
}


def sums_view(page: DesignPage) -> Row:
    """Sums between two moments, and three trials."""
    log = log_here(page)
    context: Row = frame(page, log)
    found = here(page, log)
    context |= {"found": found, "bucket": _bucket(page), "draw": _draw(page), "requested": page.state.query}
    if found is None:
        return context
    query = page.state.query
    first, last = _moment(found, query.get("from", ""), False), _moment(found, query.get("to", ""), True)
    if last <= first:
        context["wrong"] = "The second moment must lie after the first."
        return context
    rows = found.rows.between(first, last)
    context |= {"from": _clock(found, first), "to": _clock(found, last), "layers": _layers(page, found, first, last)}
    context |= {
        "flow": _flow(page, found, rows, context["layers"]),
        "ran": _ran(page, rows),
        "hottest": _hottest(page, found),
    }
    context["night"] = _night(page, found, rows)
    context["by_day"] = _by_day(page, found)
    return context


def _moment(found: Here, text: str, last: bool) -> float:
    try:
        local = datetime.fromisoformat(text)
        return hour_of(moment_of(local.replace(tzinfo=None), found.log.offset_h), found.log.offset_h)
    except ValueError:
        return float(found.rows.hour[-1 if last else 0])


def _clock(found: Here, hour: float) -> str:
    day = int(hour // 24) - int(found.rows.hour[0] // 24)
    first = found.window.begins.toordinal() + int(found.rows.hour[0] // 24) - _day_of(found)
    return f"{datetime.fromordinal(first + day):%Y-%m-%d}T{int(hour % 24):02d}:{int(hour * 60 % 60 + 1e-6):02d}"


def _day_of(found: Here) -> int:
    begins = moment_of(found.window.begins, found.log.offset_h)
    return int(hour_of(begins, found.log.offset_h) // 24)


def _at(found: Here, hour: float) -> list[float | None]:
    """The store's sensors at a moment: the nearest reading within half an hour."""
    values: list[float | None] = []
    for row in found.rows.store_c if found.rows.store_c is not None else ():
        there = np.flatnonzero(np.isfinite(row) & (np.abs(found.rows.hour - hour) <= NEAR_H))
        nearest = there[np.argmin(np.abs(found.rows.hour[there] - hour))] if there.size else None
        values.append(None if nearest is None else float(row[nearest]))
    return values


def _layers(page: DesignPage, found: Here, first: float, last: float) -> dict[str, object] | None:
    before, after = _at(found, first), _at(found, last)
    if not before or all(v is None for v in before) or all(v is None for v in after):
        return None
    log = found.log
    simulated = [_simulated(found, hour) for hour in (first, last)]
    made = {}
    for way in WAYS:
        one, other = (filled(text, way, shape) for text, shape in zip((before, after), simulated, strict=True))
        made[way] = (one, other, gain(one, other, log.litres, log.sensor_k))
    one, other, best = made["straight"]
    missing = any(one.guessed) or any(other.guessed)
    temp = lambda v: "–" if v is None else page.show(v, "degC", 1)
    kwh = lambda v: f"{page.show(v, 'kWh', 2)} {page.sign('kWh')}"
    wrong = careless(before, after, log.litres)
    return {
        "rows": [
            {
                "words": words_of(f"s{i}", log),
                "litres": page.show(log.litres[i], "L", 0),
                "one": temp(one.celsius[i]),
                "other": temp(other.celsius[i]),
                "kwh": page.show(best.by_layer[i], "kWh", 2),
                "guessed": one.guessed[i] or other.guessed[i],
            }
            for i in reversed(range(len(log.litres)))
        ],
        "kwh": kwh(best.kwh),
        "uncertainty": kwh(best.uncertainty_kwh),
        "value": best.kwh,
        "doubt_value": best.uncertainty_kwh,
        "missing": missing,
        "ways": [(words, kwh(made[way][2].kwh)) for way, words in WAYS.items()] if missing else [],
        "guessed": kwh(best.guessed_kwh),
        "careless": kwh(wrong),
        "careless_off": f"{100 * (wrong / best.kwh - 1):+.0f} %".replace("-", "−") if abs(best.kwh) > 0.05 else "",
        "mean_one": _mean(one.celsius, log.litres),
        "mean_other": _mean(other.celsius, log.litres),
    }


def _mean(celsius: Any, litres: list[float]) -> float:
    return float(sum((c or 0.0) * v for c, v in zip(celsius, litres, strict=True)) / sum(litres))


def _simulated(found: Here, hour: float) -> list[float]:
    try:
        _book, observed = sound_days(found)
    except HeatError:
        return [0.0] * len(found.log.heights)
    return [float(observed.at(f"store {i}", np.array([hour]))[0]) for i in range(len(found.log.heights))]


def _flow(page: DesignPage, found: Here, rows: Any, layers: Row | None) -> Row | None:
    readings = rows.readings
    if not all(name in readings and np.isfinite(readings[name]).any() for name in ("flow", "supply", "return")):
        return None
    glycol = found.design.system.loop.glycol_percent
    loop = flowed(rows.hour, readings["flow"], readings["supply"], readings["return"], glycol, found.log.sensor_k)
    kwh = lambda v: f"{page.show(v, 'kWh', 2)} {page.sign('kWh')}"
    context = {
        "kwh": kwh(loop.kwh),
        "uncertainty": kwh(loop.uncertainty_kwh),
        "hours": units.number(loop.hours, 1),
        "kw": f"{page.show(loop.kw, 'kW', 2)} {page.sign('kW')}",
        "glycol": f"{glycol:.0f}",
        "missed": units.number(loop.missed_h, 1) if loop.missed_h else "",
    }
    if layers is None:
        return context
    room = found.design.system.store.room_c
    hours = float(rows.hour[-1] - rows.hour[0])
    lead = 0.5 * (layers["mean_one"] + layers["mean_other"]) - room
    ua = store_loss_w_k(found.design.system.store, sum(found.log.litres))
    lost = max(lead, 0.0) * ua * hours / 1000.0
    litres = float(np.nansum(readings["draw"])) if "draw" in readings else 0.0
    drawn = drawn_kwh(litres, found.design.demand.tap_c, 12.0)
    both = gap(loop, layers["value"], layers["doubt_value"], lost, drawn)
    return context | {
        "gap": kwh(both.gap_kwh),
        "words": both.words,
        "lost": kwh(lost),
        "drawn": kwh(drawn),
        "litres": page.show(litres, "L", 0),
        "store": kwh(both.store_kwh),
        "drew": litres > 0.0,
    }


def _ran(page: DesignPage, rows: Any) -> dict[str, str] | None:
    """What the pump did; by night and backwards only where sun and flow were read."""
    if "pump" not in rows.readings:
        return None
    found = runs(rows.hour, rows.readings["pump"], rows.readings.get("sun"), rows.readings.get("flow"))
    return {
        "hours": units.number(found.hours, 1),
        "starts": f"{found.starts}",
        "night": units.number(found.night_h, 1) if "sun" in rows.readings else "",
        "back": units.number(found.backwards_h, 1) if "flow" in rows.readings else "",
    }


def _hottest(page: DesignPage, found: Here) -> list[tuple[str, str]]:
    warm = {n: r for n, r in found.rows.rows().items() if n in ("collector", "pool") or n.startswith("store ")}
    return [
        (words_of(name, found.log), f"{page.show(float(np.nanmax(row)), 'degC', 1)} {page.sign('degC')}")
        for name, row in warm.items()
    ]


def _night(page: DesignPage, found: Here, rows: Any) -> dict[str, str] | None:
    """The store's loss, where it only cooled between the two moments."""
    if rows.store_c is None or rows.hour.size < 3:
        return None
    litres = np.array(found.log.litres)
    whole = np.isfinite(rows.store_c).all(axis=0)
    drew = "draw" in rows.readings and np.nansum(rows.readings["draw"]) > 0.0
    ran = "pump" in rows.readings and np.nanmax(rows.readings["pump"]) > 0.0
    if drew or ran or whole.sum() < 3:
        return None
    mean = (rows.store_c[:, whole] * litres[:, None]).sum(axis=0) / litres.sum()
    try:
        trial = cooling(rows.hour[whole], mean, found.design.system.store.room_c, float(litres.sum()))
    except ValueError:
        return None
    show = lambda v: page.show(v, "W/K", 2)
    designed = store_loss_w_k(found.design.system.store, float(litres.sum()))
    return {
        "w_k": f"{show(trial.w_k)} {page.sign('W/K')}",
        "band": f"{show(trial.low)} to {show(trial.high)}",
        "half": f"{trial.half_h:.0f}",
        "designed": f"{show(designed)} {page.sign('W/K')}",
    }


def _by_day(page: DesignPage, found: Here) -> list[dict[str, str]]:
    """Every day looked at, as read."""
    show = lambda v, q, d=1: "–" if v is None else page.show(v, q, d)
    return [
        {
            "day": date_of(day.first // 24),
            "sun": show(day.sun_kwh_m2, "kWh/m2"),
            "pump": "–" if day.pump_h is None else units.number(day.pump_h, 1),
            "starts": "–" if day.pump_h is None else str(day.starts),
            "drawn": show(day.drawn_l, "L", 0),
            "loop": show(day.loop_kwh, "kWh"),
            "hottest": show(day.hottest_c, "degC", 0),
        }
        for day in by_day(found.rows, found.design.system.loop.glycol_percent)
    ]


def _typed(page: DesignPage, name: str, quantity: str = "") -> float | None:
    text = page.state.query.get(name, "").strip()[:20]
    if not text:
        return None
    try:
        value = units.parse_number(text)
    except ValueError as error:
        raise HeatError(units.no_number(text, error)) from error
    return units.to_core(value, quantity, page.system) if quantity else value


def _bucket(page: DesignPage) -> dict[str, object]:
    """A bucket's trial as typed."""
    try:
        litres, rise = _typed(page, "b_litres", "L"), _typed(page, "b_rise", "delta_degC")
        minutes, area = _typed(page, "b_minutes"), _typed(page, "b_area", "m2")
        if None in (litres, rise, minutes, area):
            return {}
        if min(litres or 0, minutes or 0, area or 0) <= 0:
            raise HeatError("Litres, minutes and area must be more than nothing.")
        made = bucket(
            litres or 1.0,
            rise or 0.0,
            minutes or 1.0,
            area or 1.0,
            sun_w_m2=_typed(page, "b_sun", "W/m2"),
            cloud=_typed(page, "b_cloud"),
        )
    except HeatError as error:
        return {"wrong": str(error)}
    watts = lambda v: f"{units.number(v, 0)} W"
    return {
        "kwh": f"{page.show(made.kwh, 'kWh', 2)} {page.sign('kWh')}",
        "watts": watts(made.watts),
        "per": f"{page.show(made.per_m2, 'W/m2', 0)} {page.sign('W/m2')}",
        "words": made.words,
        "share": f"{100 * made.efficiency:.0f} %" if made.efficiency is not None else "",
        "band": f"{watts(made.full_sun_w[0])} to {watts(made.full_sun_w[2])}" if made.full_sun_w else "",
        "full": watts(made.full_sun_w[1]) if made.full_sun_w else "",
    }


def _draw(page: DesignPage) -> dict[str, object]:
    """A draw by the litre, as typed: pairs of litres and temperature."""
    text = page.state.query.get("d_pairs", "").strip()[:4000]
    if not text:
        return {}
    try:
        pairs = [
            part.replace(":", " ").split()
            for part in text.replace(";", "\n").replace(",", "\n").splitlines()
            if part.strip()
        ]
        read = sorted((units.parse_number(a), units.parse_number(b)) for a, b in pairs)
        cold = _typed(page, "d_cold", "degC")
        litres = np.array([units.to_core(a, "L", page.system) for a, _b in read])
        out = np.array([units.to_core(b, "degC", page.system) for _a, b in read])
        if cold is None or len(read) < 2 or out.max() <= cold:
            raise HeatError("Two pairs at least, and cold water colder than what came out.")
        store, speed = _typed(page, "d_store", "degC"), _typed(page, "d_flow", "L/min")
        made = draw_off(litres, out, cold, 45.0, store, speed)
    except (ValueError, HeatError) as error:
        words = (
            str(error) if isinstance(error, HeatError) else "Type pairs such as “10 58, 20 57”: litres so far, degrees."
        )
        return {"wrong": words}
    return {
        "kwh": f"{page.show(made.kwh, 'kWh', 2)} {page.sign('kWh')}",
        "usable": f"{page.show(made.usable_l, 'L', 0)} {page.sign('L')}",
        "warm": f"{page.show(made.warm_l, 'L', 0)} {page.sign('L')}",
        "shower": f"{made.shower_min:.0f} min",
        "coil": f"{page.show(made.coil_w_k, 'W/K', 0)} {page.sign('W/K')}" if made.coil_w_k else "",
        "tap": f"{page.show(45.0, 'degC', 0)} {page.sign('degC')}",
    }
