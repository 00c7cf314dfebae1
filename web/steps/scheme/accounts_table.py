"""All accounts of the year, month by month, from the sums to their parts; and what must close."""

from typing import Any

import numpy as np

from heat.ledger import accounts as acc
from heat.ledger.year_book import BALANCES, BOUGHT, CARRIED, DELIVERED, LOSSES, SUN
from web.editor.design_page import DesignPage
from web.presentation.account import LOSS_WORDS
from web.presentation.accounts import BOUGHT_OR_UNMET
from web.presentation.tally import explanations
from web.ui import units
from web.ui.calendar import MONTHS

SECTIONS: dict[str, tuple[str, tuple[int, ...], tuple[int, ...]]] = {
    # key: title, what its sum holds, further lines beneath it
    "sun": ("Sun received", SUN, ()),
    "lost": ("Lost", tuple(c for columns in LOSSES.values() for c in columns), ()),
    "collectors": (
        "From the collectors",
        (acc.FROM_COLLECTOR,),
        (acc.ABSORBED, acc.COLLECTOR_LOSS, acc.COLLECTOR_IDLE, acc.COLLECTOR_DUMP, acc.COLLECTOR_STORED),
    ),
    "store": (
        "Into the store",
        (acc.INTO_STORE,),
        (
            acc.STOVE_TO_STORE,
            acc.DRAWN,
            acc.STORE_TO_HEATING,
            acc.STORE_TO_SLAB,
            acc.STORE_TO_CIRCULATION,
            acc.STORE_TO_FRESH,
            acc.STORE_TO_PROCESS,
            acc.STORE_TO_POOL,
            acc.STORE_LOSS,
            acc.SECOND_STORE_LOSS,
            acc.BOIL_OFF,
            acc.DUMP,
            acc.STORE_STORED,
        ),
    ),
    "wood": ("Own wood", (acc.OWN_STOVE,), (acc.STOVE_TO_STORE, acc.STOVE_TO_ROOMS, acc.STOVE_EXCESS)),
    "floor": (
        "Heavy floor",
        (acc.STORE_TO_SLAB,),
        (acc.SLAB_TO_ROOMS, acc.SLAB_EXCESS, acc.SLAB_LOSS, acc.SLAB_STORED),
    ),
    "delivered": ("Delivered", DELIVERED, ()),
    "requested": (
        "Asked for",
        (acc.DEMAND, acc.HEATING_DEMAND, acc.CIRCULATION_DEMAND, acc.FRESH_DEMAND, acc.PROCESS_DEMAND),
        (acc.UNMET,),
    ),
    "bought": ("Bought", BOUGHT, (acc.PUMP_ELECTRICITY,)),
    "carried": ("Carried over", CARRIED, ()),
    "pool": (
        "The pool’s own heat",
        (acc.INTO_POOL, acc.TO_POOL, acc.POOL_SUN),
        (acc.POOL_EVAPORATION, acc.POOL_AIR, acc.POOL_SKY, acc.POOL_WATER, acc.POOL_STORED),
    ),
}
BALANCE_WORDS = (
    "Sun = absorbed + kept by the glass",
    "Absorbed = losses + kept + from the collectors",
    "From the collectors = pipes + into the store or pool",
    "Into the stores = drawn + lost + kept",
    "Drawn and heated = taps + circulation",
    "Stove = store + room",
    "Rooms, fresh air and process",
    "Heavy floor",
    "Given + unmet = asked for",
    "The pool’s warmth",
    "The pool’s heater and exchanger",
    "The whole year",
)


def _cells(page: DesignPage, monthly: Any, red: bool) -> list[str]:
    texts = [page.show(float(v), "kWh") for v in (*monthly, float(np.sum(monthly)))]
    return [f"({t})" for t in texts] if red else texts


def accounts_view(page: DesignPage) -> dict[str, object]:
    """Sums with their parts by month, the balances and their largest gaps, the fractions and their meaning."""
    book = page.year.book
    sections = []
    for key, (title, columns, beneath) in SECTIONS.items():
        parts = [c for c in (*columns, *beneath) if abs(book.months[:, c]).sum() >= 0.05]
        if not parts:
            continue
        red = key == "bought"
        lines = [
            {
                "words": acc.ACCOUNTS[acc.NAMES[c]],
                "red": c in BOUGHT_OR_UNMET,
                "apart": c in beneath,
                "cells": _cells(page, book.months[:, c], c in BOUGHT_OR_UNMET),
            }
            for c in parts
        ]
        sections.append(
            {
                "key": key,
                "title": title,
                "red": red,
                "cells": _cells(page, book.by_month(*columns), red),
                "lines": lines,
            }
        )
    balances = []
    for words, (into, out) in zip(BALANCE_WORDS, BALANCES, strict=True):
        gap = book.hourly(*into) - book.hourly(*out)
        if book.hourly(*into).any() or book.hourly(*out).any():
            balances.append(
                {
                    "words": words,
                    "into": page.show(book.total(*into), "kWh"),
                    "out": page.show(book.total(*out), "kWh"),
                    "gap": f"{float(np.abs(gap).max()):.0e}",
                }
            )
    note = explanations(page)
    return {
        "months": MONTHS,
        "sections": sections,
        "balances": balances,
        "unit": page.sign("kWh"),
        "notes": [note["fraction"], note["yield"]],
        "losses": [(LOSS_WORDS[name][0], page.show(book.total(*columns), "kWh")) for name, columns in LOSSES.items()],
        "residual": f"{max(abs(book.balance_kwh), float(book.residual_wh.max()) / 1000):.1e}",
        "closed": f"{units.number(book.hours_closed, 0)} of {units.number(len(book.books), 0)}",
    }
