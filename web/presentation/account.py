"""The account of the year, as rows the templates print."""

from heat.ledger import accounts as acc
from heat.ledger.events import flowing
from heat.ledger.year_book import BOUGHT, CARRIED, DELIVERED, LOSSES, SOLAR_IN, SUN
from web.editor.design_page import DesignPage
from web.ui import units
from web.ui.calendar import MONTHS
from web.ui.rows import Row

LOSS_WORDS = {
    "optics": ("glass and optics", "plain"),
    "collector": ("collector to air", "hatch"),
    "pipes": ("pipes", "bars"),
    "store": ("store", "cross"),
    "boil-off": ("boiled off", "plain"),
    "dump": ("dumped", "hatch"),
    "over-warm rooms": ("rooms too warm", "bars"),
    "floor": ("floor to the ground", "cross"),
}
BAR, SHORT_BAR = 54.0, 44.0
"""The longest bar of a column, and where there is one column more (SVG units)."""
SIGNIFICANT_KWH = 0.5
"""Heat worth a column (kWh)."""


def account(page: DesignPage) -> Row:
    """Twelve months, the year, where the lost heat went, and the closing line."""
    book = page.year.book
    columns = {
        "sun": book.by_month(*SUN),
        "store": book.by_month(*SOLAR_IN),
        "lost": book.by_month(*book.lost_columns),
        "delivered": book.by_month(*DELIVERED),
        "wood": book.by_month(acc.OWN_STOVE),
        "bought": book.by_month(*BOUGHT),
        "carried": book.by_month(*CARRIED),
    }
    fraction = book.fraction_by_month()
    long = BAR if columns["wood"].sum() < SIGNIFICANT_KWH else SHORT_BAR
    largest = max(float(c.max()) for c in columns.values()) or 1.0

    def cells(month: int) -> Row:
        row = {
            name: {"text": page.show(v[month], "kWh"), "bar": round(long * max(v[month], 0) / largest, 1)}
            for name, v in columns.items()
        }
        row["carried"]["text"] = signed(page, float(columns["carried"][month]))
        row["fraction"] = {
            "text": units.number(100 * fraction[month], 0),
            "bar": round(64 * min(max(fraction[month], 0), 1), 1),
            "rest": round(64 - 64 * min(max(fraction[month], 0), 1), 1),
        }
        return row

    totals = {name: float(v.sum()) for name, v in columns.items()}
    usual = ("optics", "collector", "pipes", "store")
    lost = {name: book.total(*c) for name, c in LOSSES.items()}
    lost = {name: value for name, value in lost.items() if name in usual or value > 0}
    x = 0.0
    parts = []
    for name, value in lost.items():
        words, fill = LOSS_WORDS[name]
        share = 524 * value / max(totals["lost"], 1e-9)
        parts.append(
            {
                "words": words,
                "fill": fill,
                "x": round(x, 1),
                "w": round(max(share, 0.0), 1),
                "text": page.show(value, "kWh"),
            }
        )
        x += max(share, 0.0)
    return {
        "rows": [(MONTHS[m], cells(m)) for m in range(12)],
        "total": {
            **{name: page.show(v, "kWh") for name, v in totals.items()},
            "carried": signed(page, totals["carried"]),
            "fraction": units.number(100 * book.fractions.at_tap, 1),
        },
        "lost_parts": parts,
        "wood": totals["wood"] >= SIGNIFICANT_KWH,
        "unit": page.sign("kWh"),
        "missing": page.show(page.unmet_kwh, "kWh") if page.unmet_kwh >= 0.5 else "",
        "into": "pool" if book.design.system.scheme.exchange == "pool" else "store",
        "driven_by": book.design.system.scheme.driven_by,
        "pump": page.show(book.total(acc.PUMP_ELECTRICITY), "kWh power"),
        "pump_hours": units.number(
            book.pump_hours() if book.design.system.scheme.driven_by == "pump" else int(flowing(book).sum()), 0
        ),
        "residual": f"{max(abs(book.balance_kwh), float(book.residual_wh.max()) / 1000):.1e}",
        "closed_text": units.number(book.hours_closed, 0),
        "hours_text": units.number(len(book.books), 0),
        "closes": book.hours_closed == len(book.books),
    }


def signed(page: DesignPage, kwh: float) -> str:
    text = page.show(kwh, "kWh")
    return f"+{text}" if not text.startswith("−") and text != "0" else text
