"""Changing how a system works: the values each kind needs so that it can be reckoned at once, and what the change would bring."""

from concurrent.futures import ThreadPoolExecutor
from typing import Any

from heat.design import Design
from heat.design.system import SCHEMES
from heat.errors import HeatError
from heat.ledger import BOUGHT
from web.projects.reckon import passing_year, weather_year
from web.projects.services import with_values
from web.projects.sheet import Sheet
from web.ui import units

KINDS = {
    "pumped_coil": "coil in the store", "pumped_plate": "plate exchanger", "pumped_passive": "passive exchanger",
    "drainback": "drainback", "drain_down": "drain-down", "direct": "direct, frost-free", "seasonal_preheat": "seasonal preheat",
    "thermosiphon_open": "thermosiphon, open", "thermosiphon_sealed": "thermosiphon, sealed", "batch_tank": "batch tank",
    "tube_bank": "tube bank", "bag": "water bag", "pool_direct": "pool, straight through", "combi": "combi with rooms",
}  # fmt: skip
"""Every kind of system, in few words."""
GLYCOL_PERCENT = 40.0
"""Antifreeze given to a closed loop that had none (%). Source: usual strength for frost to -20 °C."""
SHORT_PIPE = {"length_m": 3.0, "outer_diameter_mm": 28.0, "outdoors": True}
"""Pipes of a system that weight moves: short, wide, rising. Source: our own choice, rise of 1 in 20 and more."""


def kind_changes(document: dict[str, Any], kind: str) -> dict[str, Any]:
    """The changes that make a design another kind: fluid, pipes and ports that suit it. KeyError for an unknown kind."""
    scheme, was = SCHEMES[kind], SCHEMES[document["system"]["kind"]]
    fresh = Design().model_dump(mode="json")["system"]
    loop = document["system"]["loop"]
    changes: dict[str, Any] = {"system.kind": kind}
    if scheme.drains or scheme.exchange in ("direct", "pool"):
        changes["system.loop.glycol_percent"] = 0.0
    elif scheme.moved != "none" and loop["glycol_percent"] == 0:
        changes["system.loop.glycol_percent"] = GLYCOL_PERCENT
    if scheme.moved == "weight" and was.moved != "weight":
        changes |= {
            f"system.loop.{pipe}.{n}": v for pipe in ("supply_pipe", "return_pipe") for n, v in SHORT_PIPE.items()
        }
        changes |= {"system.loop.check_valve": False, "system.loop.in_share": 0.85, "system.loop.out_share": 0.02,
                    "system.store.outdoors": True, "system.loop.geometry.store_bottom_m": None}  # fmt: skip
    if scheme.moved == "pump" and loop["supply_pipe"]["length_m"] == SHORT_PIPE["length_m"]:
        changes |= {
            f"system.loop.{pipe}.{n}": fresh["loop"][pipe][n]
            for pipe in ("supply_pipe", "return_pipe")
            for n in SHORT_PIPE
        }
        changes |= {f"system.loop.{n}": fresh["loop"][n] for n in ("check_valve", "in_share", "out_share")}
        changes["system.store.outdoors"] = False
    if scheme.moved == "none" or scheme.draw_coil:
        changes["system.second_store.fitted"] = False
    if scheme.moved == "none" and document["system"]["store"]["volume_l"] > 160:
        changes |= {"system.store.volume_l": 160.0}
    if scheme.exchange == "pool":
        changes |= {"demand.pool.fitted": True, "demand.pool.exchanger_w_k": 0.0}
    if kind == "combi":
        changes["demand.heating.fitted"] = True
    return changes


def swaps(sheet: Sheet) -> list[dict[str, str]]:
    """What each other kind would bring with the parts as they are: points of solar fraction, bought heat."""
    weather = weather_year(sheet.project.weather)
    now = sheet.year.book

    def row_of(kind: str) -> dict[str, str]:
        row = {"kind": kind, "words": KINDS[kind], "points": "", "bought": ""}
        try:
            changes = kind_changes(sheet.document, kind)
            book = passing_year(with_values(sheet.document, changes), weather)
            points = 100 * (book.fractions.at_tap - now.fractions.at_tap)
            alike = not any(
                path.startswith("demand.") for path, value in changes.items() if not _same(sheet.document, path, value)
            )
            row["points"] = (("+" if points > 0 else "") + units.number(points, 1)) if alike else "uses differ"
            row["bought"] = sheet.show(book.total(*BOUGHT), "kWh")
        except HeatError as error:
            row["points"] = "not possible"
            row["why"] = str(error)
        return row

    with ThreadPoolExecutor(2) as threads:  # a year's loop runs outside the interpreter's lock
        return list(threads.map(row_of, [kind for kind in KINDS if kind != now.design.system.kind]))


def _same(document: dict[str, Any], path: str, value: Any) -> bool:
    held: Any = document
    for name in path.split("."):
        held = held[name]
    return bool(held == value)
