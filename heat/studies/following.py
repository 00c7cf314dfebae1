"""What follows a number where nothing else is said: a larger store of the same make has more skin, and loses more."""

from collections.abc import Mapping
from typing import Any

from heat.common.documents import Document, Values
from heat.sizing.first_estimate import standing_loss_w_k

STORES = ("store", "second_store")


def following(document: Document, values: Mapping[str, Any]) -> Values:
    """Values by path (each in its field's unit, such as L), and those that follow them unless they are given too: a
    store's loss (W/K) as its volume (L) changes, in the proportion of standing_loss_w_k.

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
    found = dict(values)
    for name in STORES:
        volume, loss = f"system.{name}.volume_l", f"system.{name}.loss_w_k"
        now = document["system"].get(name) or {}
        if volume in values and loss not in values and now.get("volume_l") and now.get("loss_w_k"):
            share = standing_loss_w_k(float(values[volume])) / standing_loss_w_k(now["volume_l"])
            found[loss] = round(now["loss_w_k"] * share, 4)
    return found
