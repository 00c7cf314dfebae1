"""A starter catalogue: generic collectors of every family, none of them a product."""

from functools import cache
from pathlib import Path
from typing import Any

import pandas as pd

from heat.design.system import Collector

TABLE = Path(__file__).parent.parent / "data" / "collectors.csv"
TABLE_COLUMNS = ("name", "family", "source", "key")


@cache
def entries() -> dict[str, dict[str, Any]]:
    """Every entry by key: the fields of a collector in their own units (such as W/m²K), name, family, source."""
    table = pd.read_csv(TABLE, comment="#")
    return {str(row["key"]): dict(row) for _, row in table.iterrows()}


def collector(key: str, count: int = 1) -> Collector:
    """A number of collectors (1) of a catalogue entry. Raises KeyError for an unknown key."""
    entry = entries()[key]
    fields = {k: v for k, v in entry.items() if k not in TABLE_COLUMNS}
    fields["trough"] = bool(fields["trough"])
    return Collector(count=count, **{str(k): v.item() if hasattr(v, "item") else v for k, v in fields.items()})


def on_area(eta0: float, a1: float, a2: float, from_m2: float, to_m2: float) -> tuple[float, float, float]:
    """The same collector's eta0, a1 (W/m²K), a2 (W/m²K²) on another area: heat is the same, so each times from/to."""
    share = from_m2 / to_m2
    return eta0 * share, a1 * share, a2 * share
