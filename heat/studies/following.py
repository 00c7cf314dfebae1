"""What follows a number where nothing else is said: a larger store of the same make has more skin, and loses more; a
store that is its own collector grows with its glass.
"""

from collections.abc import Mapping
from typing import Any

from heat.common.documents import Document, Values
from heat.design.schemes import SCHEMES
from heat.sizing.first_estimate import standing_loss_w_k

COUNT, AREA, VOLUME = "system.collector.count", "system.collector.area_m2", "system.store.volume_l"
STORES = ("store", "second_store")


def litres_following(document: Document, values: Mapping[str, Any]) -> Values:
    """Litres of a store that is its own collector as its glass changes in number or area (1, m²): as many to each m²
    as before, so that one glass more does not spread the same water thinner. Nothing where the litres are given too.

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.
    values
        Values by dotted path, each in its field's unit.

    Returns
    -------
    Values
        The litres (L) by their path; empty where they stay.
    """
    system = document["system"]
    kind = SCHEMES.get(str(system.get("kind")))
    if kind is None or kind.driven_by != "none" or {VOLUME, "system.kind"} & values.keys():
        return {}
    if not {COUNT, AREA} & values.keys():
        return {}
    collector, litres = system.get("collector") or {}, (system.get("store") or {}).get("volume_l")
    now = (collector.get("count"), collector.get("area_m2"))
    share = 1.0
    for before, after in zip(now, (values.get(COUNT, now[0]), values.get(AREA, now[1])), strict=True):
        if not before or not isinstance(after, int | float):
            return {}  # what is no number is refused where it is read
        share *= after / before
    return {VOLUME: round(litres * share, 3)} if litres else {}


def following(document: Document, values: Mapping[str, Any]) -> Values:
    """Values by path (each in its field's unit, such as L), and those that follow them unless they are given too: a
    store's loss (W/K) as its volume (L) changes, in the proportion of standing_loss_w_k, and the litres of a store that
    is its own collector.

    Parameters
    ----------
    document
        The design document; numbers in the units its schema names.
    values
        Values by dotted path, each in its field's unit.

    Returns
    -------
    Values
        Values by path (each in its field's unit, such as L).
    """
    found = dict(values) | litres_following(document, values)
    for name in STORES:
        volume, loss = f"system.{name}.volume_l", f"system.{name}.loss_w_k"
        now = document["system"].get(name) or {}
        if volume in values and loss not in values and now.get("volume_l") and now.get("loss_w_k"):
            share = standing_loss_w_k(float(values[volume])) / standing_loss_w_k(now["volume_l"])
            found[loss] = round(now["loss_w_k"] * share, 4)
    return found
