"""The parts list of a design: every line with its quantity, the items that make its price, and what it comes from."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from math import ceil

from heat.design import Design
from heat.design.money import HandLine
from heat.design.system import Collector, Pipe
from heat.economics.prices import ITEMS
from heat.sizing.vessel import contents, reserve_l
from heat.sizing.wind import FRAMED, plane_kind, wind_load

GROUPS = ("Collectors", "Store", "Safety", "Loop", "Work", "Added")
MOUNTS = {
    "roof": "mount_roof",
    "awning": "mount_wall",
    "wall": "mount_wall",
    "flat_roof": "mount_flat",
    "ground": "mount_ground",
}


@dataclass(frozen=True)
class Line:
    """A line: its key, words, quantity and unit, the items in the price of one (by key, how many of each), and why.

    ``sizes``: what stands in the words' braces, each with its unit. ``price``: of one, where it was typed (currency).
    ``by_hand``: what was changed. ``left_out``: it costs nothing.
    """

    key: str
    words: str
    quantity: float
    unit: str
    items: tuple[tuple[str, float], ...]
    why: str
    group: str
    sizes: tuple[tuple[float, str], ...] = ()
    price: float | None = None
    by_hand: tuple[str, ...] = ()
    left_out: bool = False

    def named(self, size_text: Callable[[float, str], str] = lambda size, unit: f"{size:g} {unit}") -> str:
        """Its words with its sizes, each as ``size_text`` writes a value and its unit (such as m2).

        Parameters
        ----------
        size_text
            Writes a number with its unit.

        Returns
        -------
        str
            Its words with its sizes, each as ``size_text`` writes a value and its unit (such as m2).
        """
        return self.words.format(*(size_text(size, unit) for size, unit in self.sizes)) if self.sizes else self.words

    def price_of_one(self, prices: Mapping[str, float]) -> float:
        """Price of one (currency).

        Parameters
        ----------
        prices
            Prices by item (currency of the project).

        Returns
        -------
        float
            Price of one (currency).
        """
        return self.price if self.price is not None else sum(prices[key] * times for key, times in self.items)


def parts_list(design: Design) -> list[Line]:
    """Every line the drawing asks for (quantities in their lines' units, such as m²), in the order of the trades.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    list[Line]
        Every line the drawing asks for (quantities in their lines' units, such as m²), in the order of the
        trades.
    """
    made = [*_collectors(design), *_store(design), *_safety(design), *_loop(design), *_work(design)]
    return sorted(made, key=lambda line: GROUPS.index(line.group))


def _line(key: str, quantity: float, why: str, words: str = "", items: tuple[tuple[str, float], ...] = ()) -> Line:
    item = ITEMS[key]
    return Line(key, words or item.words, round(quantity, 2), item.unit, items or ((key, 1.0),), why, item.group)


def _collector_key(collector: Collector, design: Design) -> str:
    if design.system.scheme.driven_by == "none":
        return "collector_store"
    if collector.a1_w_m2k > 8.0:
        return "collector_bare"
    return "collector_tube" if collector.a1_w_m2k < 2.6 else "collector_flat"


def _collectors(design: Design) -> list[Line]:
    found, system = [], design.system
    second = system.second_collector
    for which, collector in (("", system.collector), ("second_", second)):
        if which and not second.fitted:
            continue
        key, each = _collector_key(collector, design), collector.total_gross_m2 / collector.count
        line = _line(key, collector.count, f"number and gross area of the {which.replace('_', ' ')}collectors")
        found.append(
            replace(
                line,
                key=f"{which}collector",
                unit="piece",
                words=f"{line.words}, {{}}",
                sizes=((round(each, 2), "m2"),),
                items=((key, each),),
            )
        )
    count = system.collector.count + (second.count if second.fitted else 0)
    kind = plane_kind(design)
    found.append(_line(MOUNTS[kind], count, f"one for each collector, on a {kind.replace('_', ' ')}"))
    if kind in FRAMED:
        ballast = wind_load(design).ballast_kg
        if ballast > 0.0:
            found.append(_line("ballast", round(ballast), "against the design gust, or as many fixings"))
    elif kind in ("roof", "awning"):
        found.append(_line("roof_entry", 2, "flow and return through the roof"))
    mirror = design.plane.mirror
    if mirror.fitted:
        found.append(_line("mirror", mirror.width_m * mirror.depth_m, "width times depth of the mirror"))
    return found


def _store(design: Design) -> list[Line]:
    system, found = design.system, []
    scheme = system.scheme
    if scheme.exchange != "pool":
        stores = [("store", system.store)] + (
            [("second_store", system.second_store)] if system.second_store.fitted else []
        )
        for key, store in stores:
            line = replace(_line("store", 1, "volume of the store", "store of {}"), sizes=((store.volume_l, "L"),))
            found.append(replace(line, key=key, items=(("store", 1.0), ("store_litre", store.volume_l))))
        if not scheme.vented:
            found.append(_line("anode", 1, "a store of enamelled steel"))
    if scheme.draw_coil or system.draw_coil.fitted:
        found.append(_line("draw_coil", 1, "drinking water passes a coil"))
    if scheme.exchange in ("plate", "passive"):
        found.append(_line("plate", 1, "its kind hands heat on through one"))
    backup = system.backup
    fitted = sum(part.fitted for part in (backup.element, backup.top_element))
    if fitted and scheme.exchange != "pool":
        found.append(_line("element", fitted, "elements that are fitted"))
    return found


def _safety(design: Design) -> list[Line]:
    system, found = design.system, []
    scheme, hot_water = system.scheme, design.demand.hot_water
    if hot_water and scheme.exchange != "pool":
        found.append(_line("mixing_valve", 1, "the store can scald"))
        if not scheme.vented:
            found += [
                _line("relief_store", 1, "a closed store under mains pressure"),
                _line("cold_group", 1, "a closed store under mains pressure"),
            ]
    if scheme.vented:
        found.append(_line("vent", 1, "an open store boils and overflows somewhere"))
    if scheme.driven_by == "pump" and scheme.exchange in ("coil", "plate", "passive"):
        found.append(_line("relief_loop", 1, "a closed loop"))
        found.append(
            _line("drainback_vessel", 1, "its water runs back")
            if scheme.drains
            else _line("vessel", 1, "fluid and steam find room")
        )
    if system.kind == "thermosiphon_sealed":
        found += [_line("relief_loop", 1, "a closed loop"), _line("vessel", 1, "fluid finds room")]
    if system.kind in ("drain_down", "seasonal_preheat"):
        found += [
            _line("drain_valves", 1, "water outdoors is let out before frost"),
            _line("vacuum_valve", 1, "air comes in as water goes out"),
        ]
    if system.kind in ("direct", "batch_tank", "tube_bank"):
        found.append(_line("relief_loop", 1, "water shut in can boil"))
    if scheme.exchange == "pool":
        found += [
            _line("relief_loop", 1, "water shut in can boil"),
            _line("vacuum_valve", 1, "the collectors empty when the pump stops"),
        ]
    return found


def _pipes(design: Design) -> list[tuple[str, Pipe]]:
    loop = design.system.loop
    return [("supply_pipe", loop.supply_pipe), ("return_pipe", loop.return_pipe)]


def _loop(design: Design) -> list[Line]:
    system, found = design.system, []
    scheme = system.scheme
    if scheme.driven_by == "none":
        return [_line("pipe_copper", 10, "to and from the taps' line, about")]
    if scheme.driven_by == "pump":
        found += [
            _line("pump", 2 if scheme.exchange == "plate" else 1, "its kind moves by pump"),
            _line("controller", 1, "something must switch the pump"),
            _line("check_valve", 1, "no circulation at night"),
        ]
        found.append(
            _line("diverter", 1, "the pool's circuit")
            if scheme.exchange == "pool"
            else _line("fill_valve", 1, "the loop is filled and flushed")
        )
    if not scheme.drains:
        found.append(_line("air_vent", 1, "air gathers at the top"))
    for name, pipe in _pipes(design):
        words, width = f"{pipe.material} pipe, {{}}", (pipe.outer_diameter_mm, "mm")
        which = "to the store" if name == "supply_pipe" else "to the collectors"
        share = pipe.outer_diameter_mm / 18.0
        line = _line(f"pipe_{pipe.material}", pipe.length_m, f"length of the pipe {which}", words)
        found.append(replace(line, key=name, sizes=(width,), items=((f"pipe_{pipe.material}", share),)))
        if pipe.insulation_mm > 0:
            thick = share**0.5 * pipe.insulation_mm / 19.0
            wrap = _line("insulation", pipe.length_m, f"length of the pipe {which}", "insulation, {} on {}")
            sizes = ((pipe.insulation_mm, "mm"), width)
            found.append(replace(wrap, key=f"{name}_insulation", sizes=sizes, items=(("insulation", thick),)))
        if pipe.buried and name == "supply_pipe":
            found.append(_line("trench", pipe.length_m, "the pipe runs in the ground"))
    if fluid_l(design) > 0:
        found.append(_line("fluid", fluid_l(design), "pipes, collectors and coil filled, and the vessel’s reserve"))
    return found


def fluid_l(design: Design) -> float:
    """Antifreeze of a loop with its reserve (L); none where it holds water.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    float
        Antifreeze of a loop with its reserve (L).
    """
    system = design.system
    if system.loop.glycol_percent <= 0 or system.scheme.exchange in ("direct", "pool", "none"):
        return 0.0
    filled = contents(design)
    return float(ceil(filled.whole_l + reserve_l(filled, system.loop.glycol_percent)))


def _work(design: Design) -> list[Line]:
    system = design.system
    count = system.collector.count + (system.second_collector.count if system.second_collector.fitted else 0)
    metres = sum(pipe.length_m for _name, pipe in _pipes(design)) if system.scheme.driven_by != "none" else 10.0
    up = "roofer" if plane_kind(design) in ("roof", "flat_roof", "awning") else "fitter"
    found = [_line(up, 3 + 1.5 * count, "three hours, and one and a half for each collector", "fixing the collectors")]
    found[0] = replace(found[0], key="fixing")
    plumbing = _line(
        "fitter",
        round(6 + 0.25 * metres + (4 if system.scheme.exchange != "pool" else 0), 1),
        "six hours, a quarter for each metre of pipe, four for a store",
        "plumbing",
    )
    found.append(replace(plumbing, key="plumbing"))
    if system.scheme.driven_by == "pump" or system.backup.element.fitted:
        found.append(_line("electrician", 3, "pump, controller or element"))
    return [
        *found,
        _line("permit", 1, "as the place asks"),
        _line("transport", 1, "collectors and store"),
        _line("commissioning", 1, "measured and handed over"),
    ]


def changed(lines: list[Line], hands: tuple[HandLine, ...]) -> list[Line]:
    """Lines with what was changed by hand (quantities in their units, prices in currency), the rest as it was.

    Parameters
    ----------
    lines
        Lines of the parts list.
    hands
        Hours of work by kind.

    Returns
    -------
    list[Line]
        Lines with what was changed by hand (quantities in their units, prices in currency).
    """
    by_key = {hand.key: hand for hand in hands}
    found = [_with_hand(line, by_key[line.key]) if line.key in by_key else line for line in lines]
    known = {line.key for line in lines}
    own = [
        Line(
            hand.key,
            hand.words,
            hand.quantity if hand.quantity is not None else 1.0,
            hand.unit,
            (),
            "added by hand",
            "Added",
            (),
            hand.price or 0.0,
            ("added",),
            hand.left_out,
        )
        for hand in hands
        if hand.key not in known and hand.words
    ]
    return found + own


def _with_hand(line: Line, hand: HandLine) -> Line:
    marks = [name for name, text in (("quantity", hand.quantity), ("price", hand.price)) if text is not None]
    if hand.left_out:
        marks.append("left out")
    return replace(
        line,
        quantity=line.quantity if hand.quantity is None else hand.quantity,
        price=hand.price,
        left_out=hand.left_out,
        by_hand=tuple(marks),
    )
