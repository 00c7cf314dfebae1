"""Making a design another kind: what each kind needs to be reckoned at once."""

from typing import Any

from heat.design.document import Design
from heat.design.system import SCHEMES

GLYCOL_PERCENT = 40.0
"""Antifreeze given to a closed loop that had none (%). Source: usual strength for frost to -20 °C."""
SHORT_PIPE = {"length_m": 3.0, "outer_diameter_mm": 28.0, "outdoors": True}
"""Pipes of a system that weight moves: short, wide, rising. Source: our own choice, rise of 1 in 20 and more."""


def kind_changes(document: dict[str, Any], kind: str) -> dict[str, Any]:
    """The changes that make a design another kind: fluid, pipes and ports that suit it. KeyError for an unknown kind.

    Values by dotted path, in the fields' own units (such as kg/h).
    """
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
