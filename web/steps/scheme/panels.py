"""What stands beside the drawing: the chosen part's values, and what a step of its main value would buy."""

from heat.common.documents import value_at
from heat.design import field_at, parse
from heat.design.schemes import SCHEMES
from heat.errors import HeatError
from heat.loop.runs import loop_drop_pa, loop_flow_kg_h
from heat.sizing.heat_source import needs_of_source
from web.editor.design_page import DesignPage
from web.presentation.cautions import heated_words
from web.projects.documents import with_values
from web.simulations.cache import remembered, simulate_uncached
from web.simulations.tallies import Small, known, small_of
from web.steps.scheme.alternatives import GROUPS_OF, taken_from
from web.steps.scheme.parts import BY_PUMP, BY_WEIGHT, IN_VESSELS, NOTES, PARTS
from web.ui import units


def parts_of(page: DesignPage) -> dict[str, tuple[str, tuple[str, ...], str, float]]:
    """The parts this kind of system has."""
    design = page.year.book.design
    scheme, exchange = design.system.scheme, design.system.scheme.exchange
    has = {
        "store": scheme.driven_by != "none" and exchange != "pool",
        "coil": exchange == "coil",
        "plate": exchange in ("plate", "passive"),
        "jacket": exchange == "jacket",
        "draw": scheme.draw_coil or design.system.draw_coil.fitted,
        "integral": scheme.driven_by == "none",
        "ports": exchange in ("direct", "plate", "passive"),
        "siphon": scheme.driven_by == "buoyancy" or exchange == "passive",
        "tubes": scheme.driven_by == "pump" and exchange != "passive",
        "mirror": design.plane.mirror.fitted,
        "loop": scheme.driven_by != "none",
        "pipes": scheme.driven_by != "none",
        "return": scheme.driven_by != "none",
        "control": scheme.driven_by == "pump",
        "season": scheme.driven_by == "pump" and scheme.water_outdoors,
        "second_collector": design.system.second_collector.fitted,
        "second_store": design.system.second_store.fitted,
        "dump": design.system.dump.fitted,
        **{
            name: getattr(design.system.backup, name).fitted
            for name in ("top_element", "boiler", "stove", "pasteurisation")
        },
    }
    return {key: part for key, part in PARTS.items() if has.get(key, True)}


def first_part(page: DesignPage) -> str:
    """The part whose values stand open where none was asked for."""
    has = parts_of(page)
    return next(key for key in ("store", "integral", "collector") if key in has)


def chosen_part(page: DesignPage) -> str:
    """The part asked for; where none is, the first this kind of system has."""
    requested = page.state.part
    return first_part(page) if not requested else requested if requested in PARTS else "store"


def panel(page: DesignPage, part: str) -> dict[str, object]:
    """A part's title and values."""
    title, paths, _main, _step = PARTS[part]
    listed = part in ("kind", "add")
    if part == "loop" and page.year.book.design.system.scheme.driven_by == "buoyancy":
        paths = tuple(p for p in paths if not p.endswith(("flow_kg_h", "pump_w")))  # nothing pumps
    system = page.year.book.design.system
    if part == "loop" and system.loop.drive.curve:
        paths = tuple(p for p in paths if not p.endswith("flow_kg_h"))  # it follows the curve
    if part == "stove":
        idle = BY_PUMP if system.backup.stove.circulation == "thermosiphon" else BY_WEIGHT
        paths = tuple(p for p in paths if not p.endswith(idle))
    if part == "integral":
        bag = page.year.book.design.system.kind == "bag"
        paths = tuple(p for p in paths if not p.endswith(IN_VESSELS if bag else ("depth_mm",)))
    return {
        "key": part,
        "title": title,
        "fields": [] if page.state.instead else [page.field(p) for p in paths],
        "taken": [heated_words(page)]
        if part == "pasteurisation"
        else [f"from {source}" for source in taken_from(page, part)]
        + pumped_words(page, part)
        + demand_words(page, part),
        "note": NOTES.get(part, ""),
        "has_others": part in GROUPS_OF,
        "instead": page.state.instead and part in GROUPS_OF,
        "listed": listed,
    }


def pumped_words(page: DesignPage, part: str) -> list[str]:
    """What flow comes of the pump's curve, and the loop's resistance at it."""
    design = page.year.book.design
    if part not in ("loop", "tubes") or design.system.scheme.driven_by != "pump":
        return []
    flow = loop_flow_kg_h(design)
    head = loop_drop_pa(design, flow) / 9806.65
    where = "the curve meets the loop at" if design.system.loop.drive.curve else "the loop asks, at"
    flow_text = f"{page.show(flow, 'kg/h')} {page.sign('kg/h')}"
    return [f"{where} {flow_text}, {page.show(head, 'm', 2)} {page.sign('m')} of head and what the exchanger takes"]


def demand_words(page: DesignPage, part: str) -> list[str]:
    """What a stove or a boiler must give on the coldest day, to choose one by."""
    if part not in ("stove", "boiler"):
        return []
    wanted = needs_of_source(page.parsed, page.weather)
    kw = lambda value: f"{page.show(value, 'kW', 1)} {page.sign('kW')}"
    sums = [("rooms", wanted.rooms_kw), ("hot water", wanted.water_kw), ("store", wanted.store_kw)]
    parts = " + ".join(f"{name} {kw(value)}" for name, value in sums if value > 0.005)
    words = f"asked for on the coldest day: {parts} = {kw(wanted.whole_kw)}"
    if part == "stove" and 0.0 < wanted.lit_share < 1.0:
        words += f"; {kw(wanted.lit_kw)} while it is lit, {24 * wanted.lit_share:.0f} of 24 h"
    return [words]


def stepped(page: DesignPage, path: str, value: float) -> Small:
    """The figures of the year with one value stepped; of that year nothing else is kept. Raises HeatError."""
    design, file = parse(with_values(page.document, {path: value})), page.project.weather

    found: Small = remembered("step", design, file, lambda: small_of(simulate_uncached(design, page.weather)))
    return found


def next_step(page: DesignPage, part: str) -> list[dict[str, str]]:
    """What one step down and up of the part's main value would change, by two full years."""
    _title, _paths, path, step = PARTS[part]
    if not path or value_at(page.document, path) is None:
        return []
    if part == "loop" and SCHEMES[page.document["system"]["kind"]].driven_by == "buoyancy":
        return []
    value = float(value_at(page.document, path))
    quantity = page.field(path).sign
    now = (known(page.design) or small_of(page.year.book)).fraction
    rows = []
    for sign, mark in ((-1, "▼"), (1, "▲")):
        changed = value + sign * step
        try:
            other = stepped(page, path, changed if value % 1 or step % 1 else int(changed))
        except HeatError:
            continue
        points = 100 * (other.fraction - now)
        from_unit = _quantity(path)
        rows.append(
            {
                "mark": mark,
                "text": f"{units.field_text(changed, from_unit, page.system)} {quantity}".strip(),
                "points": ("+" if points > 0 else "") + units.number(points, 1),
                "bought": page.show(other.bought_kwh, "kWh"),
            }
        )
    return rows


def _quantity(path: str) -> str:
    return (field_at(path).json_schema_extra or {}).get("unit", "1")
