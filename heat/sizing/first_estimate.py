"""A first estimate: fitting schemes for what is wanted, sized by rules of thumb, chosen by simulated years.

The rules are those of the trade and differ between its rules of thumb; :func:`schools` shows where each rule's answer
lands.
"""

from collections.abc import Callable
from dataclasses import dataclass
from math import ceil
from typing import Literal

from heat.catalogue import changes as entry_changes
from heat.catalogue import entries
from heat.common.documents import Document, Values
from heat.design import Design, parse
from heat.design.changing import kind_changes, with_changes
from heat.errors import HeatError
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, NEEDED, YearBook
from heat.loop.runs import USUAL_PUMP, hydraulic_w
from heat.sizing.antifreeze import TOO_THIN, needed_percent
from heat.sizing.circuit import pipe_sizes, recommended
from heat.sizing.fitting import Idea
from heat.sizing.pipe_tables import Norm
from heat.sizing.requirements import FLOOR_M, HABITS, Backup, Wishes, wanted

Rule = Literal["person", "pool", "rooms", "several"]
"""What a size is counted by: people, the pool's surface, people beside rooms, or several uses at once."""
AREA_PER_PERSON_M2 = (0.8, 1.8)
"""Gross collector area for one person's hot water, least and most tried (m²). Source: rule of thumb, 1 to 1.5 m²."""
AREA_PER_ROOM_MWH_M2 = (0.6, 1.4)
"""Gross area for each MWh of yearly room heat, least and most (m²). Source: rule of thumb for combined systems, 10 to
20 %."""
AREA_PER_POOL_M2 = (0.5, 0.9)
"""Gross area for each m² of pool, least and most (1). Source: rule of thumb, half to nine tenths of the pool."""
AREA_BESIDE_POOL_M2 = 0.5
"""Gross glazed area added at most for each m² of a pool that a store warms besides (1). Source: rule of thumb, 0.3 to
0.6."""
STORE_GUIDELINES_L_M2 = (40.0, 50.0, 75.0)
"""Store volume for each m² of collector (L/m²): cold climate and heating; middle; hot water only. Source: three
rules of thumb."""
FLOW_KG_H_M2, PLATE_FLOW_KG_H_M2, POOL_FLOW_KG_H_M2 = 40.0, 20.0, 120.0
"""Flow for each m² (kg/h m²). Source: usual ranges 15 to 50, low flow for layered stores, pools far more."""
COIL_W_K_M2, PLATE_W_K_M2 = 60.0, 120.0
"""Exchanger for each m² of collector (W/K m²). Source: rule of thumb, 0.2 m² smooth coil a m²; plates twice that."""
PIPES = ("supply_pipe", "return_pipe")
POOL_PIPE = {"material": "plastic", "outer_diameter_mm": 25.0, "wall_mm": 1.9, "insulation_mm": 0.0}
"""What pool water runs in, before it is sized (mm): plastic, which chlorine leaves alone, and bare, as it is hardly
warmer than the air. Source: usual practice."""
NEXT_SHARE = 0.5
"""A further collector is taken while it saves at least this share of what the first ones save each (1). Source: our
choice."""
STEEP_DEG = 15.0
"""Added to the latitude for winter and rooms (deg). Source: the winter rule of thumb, latitude + 15 to 20."""


@dataclass(frozen=True)
class Sizes:
    """Why these sizes: number (1) and gross area (m²); what each further one would save and what the first ones save
    each
    (kWh; None where none was tried); store for each m² (L/m²) and those tried; area for what the rule counts by (m²
    for each).
    """

    count: int
    area_m2: float
    more: int | None
    more_saves_kwh: float
    first_saves_kwh: float
    litres_m2: float
    litres_tried: tuple[float, ...]
    rule: Rule
    by_rule: float


@dataclass(frozen=True)
class Proposal:
    """An idea with sizes: the design document, its year (kWh), and why these sizes."""

    idea: Idea
    document: Document
    book: YearBook
    sizes: Sizes


@dataclass(frozen=True)
class Guideline:
    """One rule's answer to a question: words, store for each m² where that is the answer (L/m²), and the design."""

    question: str
    answer: str
    document: Document
    litres_m2: float | None = None


GLYCOL_STEP = 5.0
"""Antifreeze is mixed in such steps (%). Source: our own choice."""


def standing_loss_w_k(volume_l: float) -> float:
    """Heat loss of a well insulated store (W/K) of a volume (L): ``(12 + 5.93 V^0.4)/45``.

    Upper edge of class B.

    Parameters
    ----------
    volume_l
        Volume (L).

    Returns
    -------
    float
        Heat loss of a well insulated store (W/K).

    References
    ----------
    Commission Delegated Regulation (EU) 812/2013, annex II, table 2.
    """
    return float((12.0 + 5.93 * volume_l**0.4) / 45.0)


def sized(document: Document, idea: Idea, count: int, litres_m2: float, wishes: Wishes) -> Document:
    """The design of an idea with a number of collectors (1) and a store (L for each m²).

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.
    idea
        The kind of system with the collector that goes with it.
    count
        Number of segments in use.
    litres_m2
        Store for each m² of collectors (L/m²).
    wishes
        What is asked of the system.

    Returns
    -------
    Document
        The design of an idea with a number of collectors (1) and a store (L for each m²).
    """
    made = with_changes(document, kind_changes(document, idea.kind))
    made = with_changes(made, entry_changes(entries()[idea.collector], made))
    design = parse(made)
    area = count * (design.system.collector.gross_area_m2 or design.system.collector.area_m2)
    volume = float(min(max(round(area * litres_m2 / 25.0) * 25.0, 80.0), 100_000.0))
    scheme = design.system.scheme
    flow = (
        POOL_FLOW_KG_H_M2
        if scheme.exchange == "pool"
        else PLATE_FLOW_KG_H_M2
        if scheme.exchange == "plate"
        else FLOW_KG_H_M2
    )
    values: Values = {
        "system.collector.count": count,
        "system.store.volume_l": volume,
        "system.store.loss_w_k": round(standing_loss_w_k(volume), 2),
        "system.loop.flow_kg_h": round(flow * area, -1),
        "system.coil.ua_w_k": round(max(COIL_W_K_M2 * area, 150.0), -1),
        "system.plate.ua_w_k": round(PLATE_W_K_M2 * area, -1),
        "system.jacket.ua_w_k": round(max(COIL_W_K_M2 * area, 150.0), -1),
        "system.loop.pump_w": 25.0 if area < 12 else 60.0,
        "system.tempering_valve": True,
        "system.dump.fitted": wishes.rooms,
    }
    if design.system.loop.glycol_percent > 0 and wishes.coldest_c is not None:
        strong = needed_percent(wishes.coldest_c, design.safety.frost_margin_k)
        if strong is not None:
            values["system.loop.glycol_percent"] = max(GLYCOL_STEP * ceil(strong / GLYCOL_STEP), TOO_THIN)
    if scheme.exchange == "pool":
        values |= {f"system.loop.{pipe}.{name}": value for pipe in PIPES for name, value in POOL_PIPE.items()}
    if wishes.pipe_m is not None and scheme.driven_by != "none":
        values |= {f"system.loop.{pipe}.length_m": wishes.pipe_m for pipe in PIPES}
    if wishes.floors is not None and scheme.driven_by == "pump":
        values["safety.static_m"] = round(FLOOR_M * (wishes.floors + 0.5), 1)  # from a store's middle to the roof
    in_store = scheme.driven_by == "pump" and scheme.exchange != "pool"
    return piped(with_changes(made, values | backup_changes(wishes.backup, in_store=in_store)), wishes.pipes)


def piped(document: Document, norm: Norm = "EN") -> Document:
    """A pumped design with pipes that suit its flow, where they are too narrow (mm), and a pump that can drive it (W).

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.
    norm
        Metric sizes or nominal inches: pipes of the other kind become the nearest of this one.

    Returns
    -------
    Document
        The design with them.
    """
    design = parse(document)
    if design.system.scheme.driven_by != "pump":
        return document
    sizes, now = pipe_sizes(design, norm=norm), design.system.loop.supply_pipe.outer_diameter_mm
    wanted = recommended(sizes)
    if wanted.outer_mm <= now and norm != "EN":
        wanted = min(sizes, key=lambda size: abs(size.outer_mm - now))
    changes: Values = {}
    if wanted.outer_mm > now or norm != "EN":
        for pipe in PIPES:
            path = f"system.loop.{pipe}"
            changes |= {f"{path}.outer_diameter_mm": float(wanted.outer_mm), f"{path}.wall_mm": float(wanted.wall_mm)}
    made = with_changes(document, changes)
    needs = ceil(hydraulic_w(parse(made)) / USUAL_PUMP / 5.0) * 5.0
    return with_changes(made, {"system.loop.pump_w": max(design.system.loop.pump_w, needs)})


def backup_changes(backup: Backup, *, in_store: bool) -> Values:
    """The values of a backup (kW, °C): in the store where there is one indoors, else a tankless one of the same fuel.

    Parameters
    ----------
    backup
        The backup.
    in_store
        Whether it heats the store.

    Returns
    -------
    Values
        The values of a backup (kW, °C).
    """
    b = "system.backup."
    tankless = backup in ("tankless_gas", "tankless_power") or not in_store
    power = backup in ("tankless_power", "element")
    found: Values = {
        f"{b}tankless.fitted": tankless and backup != "none",
        f"{b}element.fitted": backup == "element" and in_store,
        f"{b}element.height_share": 0.5,
        f"{b}element.sensor_share": 0.6,
        f"{b}boiler.fitted": backup == "boiler" and in_store,
        f"{b}stove.fitted": backup == "stove" and in_store,
    }
    if tankless:
        found |= {
            f"{b}tankless.efficiency": 0.98 if power else 0.92,
            f"{b}tankless.burns": "power" if power else "gas",
            f"{b}tankless.price_kwh": None,
            f"{b}tankless.co2_kg_kwh": None,
        }
    return found


def proposal(document: Document, idea: Idea, wishes: Wishes, year: Callable[[Document], YearBook]) -> Proposal:
    """An idea sized: collectors while the next one still saves half of the first ones' share, then the best store rule
    of thumb.

    ``year`` calculates a document's year. Area in m², heat in kWh.

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.
    idea
        The kind of system with the collector that goes with it.
    wishes
        What is asked of the system.
    year
        Simulates a document's year.

    Returns
    -------
    Proposal
        An idea sized: collectors while the next one still saves half of the first ones' share, then the best
        store rule of thumb.

    Raises
    ------
    HeatError
        Where nothing can be calculated.
    """
    with_wishes = with_changes(document, wanted(document, wishes, idea.kind))
    each = float(entries()[idea.collector].values["gross_area_m2"])
    rooms_mwh = 0.0
    if wishes.rooms:
        rooms_mwh = (
            year(sized(with_wishes, idea, 2, STORE_GUIDELINES_L_M2[1], wishes)).total(acc.HEATING_DEMAND) / 1000.0
        )
    least, most = _span(with_wishes, wishes, idea.kind, rooms_mwh)
    room = wishes.room_m2 or 1e9
    counts = list(range(max(ceil(min(least, room) / each - 1e-6), 1), max(int(min(most, room) / each), 1) + 1)) or [1]
    if len(counts) > 4:
        step = (len(counts) - 1) / 3
        counts = sorted({counts[round(i * step)] for i in range(4)})
    middle = STORE_GUIDELINES_L_M2[1]
    best = sized(with_wishes, idea, counts[0], middle, wishes)
    book, count = year(best), counts[0]
    refused: tuple[int | None, float] = (None, 0.0)
    first = _saved(book) / counts[0]
    for more in counts[1:]:
        tried = sized(with_wishes, idea, more, middle, wishes)
        next_book = year(tried)
        gain = (_saved(next_book) - _saved(book)) / (more - count)
        if gain < NEXT_SHARE * first:
            refused = (more, gain)
            break
        best, book, count = tried, next_book, more
    guidelines_tried = {middle: (best, book)}
    if parse(best).system.scheme.driven_by != "none" and parse(best).system.scheme.exchange != "pool":
        for litres in STORE_GUIDELINES_L_M2:
            if litres != middle:
                tried = sized(with_wishes, idea, count, litres, wishes)
                guidelines_tried[litres] = (tried, year(tried))
    litres = max(guidelines_tried, key=lambda k: (round(guidelines_tried[k][1].fractions.at_tap, 3), -k))
    best, book = guidelines_tried[litres]
    area = book.design.system.collector.total_gross_m2
    rule, by = _rule(with_wishes, wishes, idea.kind, area)
    sizes = Sizes(count, area, *refused, first, litres, tuple(sorted(guidelines_tried)), rule, by)
    return Proposal(idea, best, book, sizes)


def at_area(document: Document, idea: Idea, wishes: Wishes, area_m2: float) -> Document:
    """An idea on about a gross area (such as 4.6 m²) with the middle rule's store, for a first look.

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.
    idea
        The kind of system with the collector that goes with it.
    wishes
        What is asked of the system.
    area_m2
        Area (m²).

    Returns
    -------
    Document
        An idea on about a gross area (such as 4.6 m²) with the middle rule's store, for a first look.
    """
    with_wishes = with_changes(document, wanted(document, wishes, idea.kind))
    each = float(entries()[idea.collector].values["gross_area_m2"])
    return sized(with_wishes, idea, max(round(area_m2 / each), 1), STORE_GUIDELINES_L_M2[1], wishes)


def _saved(book: YearBook) -> float:
    """Heat the sun saves at the uses in the year (kWh); what they miss is not saved."""
    return book.total(*NEEDED) - book.total(*BOUGHT, acc.UNMET)


def _span(document: Document, wishes: Wishes, kind: str, rooms_mwh: float) -> tuple[float, float]:
    """Least and most gross area tried (m²)."""
    demand = document["demand"]
    surface = demand["pool"]["area_m2"]
    if kind == "pool_direct":
        return surface * AREA_PER_POOL_M2[0], surface * AREA_PER_POOL_M2[1]
    persons = wishes.people if wishes.hot_water else 0.0
    if wishes.litres_day is not None and wishes.hot_water:
        persons = wishes.litres_day / HABITS["usual"]
    if wishes.showers:
        persons += demand["showers"]["count_day"] * demand["showers"]["litres_each"] / HABITS["usual"]
    least, most = (persons * a for a in AREA_PER_PERSON_M2)
    if wishes.rooms:
        least, most = least + rooms_mwh * AREA_PER_ROOM_MWH_M2[0], most + rooms_mwh * AREA_PER_ROOM_MWH_M2[1]
    if wishes.pool:
        most += surface * AREA_BESIDE_POOL_M2
    return least, most


def _rule(document: Document, wishes: Wishes, kind: str, area_m2: float) -> tuple[Rule, float]:
    if kind == "pool_direct":
        return "pool", area_m2 / float(document["demand"]["pool"]["area_m2"])
    if wishes.pool or wishes.showers:
        return "several", area_m2
    return "rooms" if wishes.rooms else "person", area_m2 / wishes.people


def guidelines(document: Document, latitude_deg: float) -> list[Guideline]:
    """What each rule of thumb would change in a design: tilt (deg), store for each m² (L/m²), azimuth (deg).

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.
    latitude_deg
        Latitude, north positive (deg).

    Returns
    -------
    list[Guideline]
        What each rule of thumb would change in a design: tilt (deg), store for each m² (L/m²), azimuth (deg).
    """
    design = Design.model_validate(document)
    latitude, found = abs(latitude_deg), []
    free = with_changes(document, {"plane.on": ""})
    for words, tilt in (
        ("latitude, all year", latitude),
        ("latitude + 10°, tubes", latitude + 10),
        ("latitude + 15°, winter", latitude + STEEP_DEG),
        ("60°, sheds summer", 60.0),
    ):
        found.append(Guideline("tilt", words, with_changes(free, {"plane.tilt_deg": round(min(tilt, 90.0), 1)})))
    equator = 180.0 if latitude_deg >= 0 else 0.0
    for words, off in (("to the equator", 0.0), ("45° off it", 45.0), ("east or west", 90.0)):
        found.append(Guideline("azimuth", words, with_changes(free, {"plane.azimuth_deg": (equator + off) % 360.0})))
    scheme = design.system.scheme
    if scheme.driven_by != "none" and scheme.exchange != "pool":
        area = design.system.collector.total_gross_m2
        for litres, who in zip(
            STORE_GUIDELINES_L_M2, ("cold climate, hotter", "the middle", "hot water only, cooler"), strict=True
        ):
            volume = max(round(area * litres, -1), 80.0)
            found.append(
                Guideline(
                    "store",
                    who,
                    with_changes(
                        document,
                        {"system.store.volume_l": volume, "system.store.loss_w_k": round(standing_loss_w_k(volume), 2)},
                    ),
                    litres,
                )
            )
    return found


def tried(makes: Callable[[Document], YearBook], guideline: Guideline) -> YearBook | None:
    """A rule's year (kWh), or None where it cannot be built.

    Parameters
    ----------
    makes
        Simulates a document's year.
    guideline
        The rule of thumb.

    Returns
    -------
    YearBook | None
        A rule's year (kWh), or None where it cannot be built.
    """
    try:
        return makes(guideline.document)
    except HeatError:
        return None
