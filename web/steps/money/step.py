"""Money, step 6: what a design costs, what becomes of it over the years, what to burn and when, and the price book."""

from heat.design.money import Fuel
from web.editor.design_page import DesignPage
from web.editor.step import Action, Download, PaletteCommand, RowList, Step, View, address_of, value_commands
from web.steps.money.burning import burning_view
from web.steps.money.cost import add_line, change_line, cost_csv, cost_view, freeze_prices
from web.steps.money.later_collectors import more_view
from web.steps.money.prices import book_csv, book_spreadsheet, change_price, prices_view, read_prices, undo_prices
from web.steps.money.years import RATES, years_csv, years_view

VIEWS = (
    View(key="cost", title="What it costs", template="money/cost.html", build=cost_view, under="m"),
    View(key="years", title="Over the years", template="money/years.html", build=years_view, under="m"),
    View(key="burn", title="When to boost, what to burn", template="money/burning.html", build=burning_view, under="m"),
    View(key="more", title="Adding collectors later", template="money/more.html", build=more_view, under="m"),
    View(key="prices", title="Price book", template="money/prices.html", build=prices_view, under="m"),
)


def commands(page: DesignPage) -> list[PaletteCommand]:
    """Its views."""
    at = lambda view: address_of(page.design, "money", view=view)
    found = [PaletteCommand(text=f"Money: {view.title.lower()}", href=at(view.key)) for view in VIEWS]
    return found + value_commands(page, [f"money.{name}" for name in RATES], at("years"), "money")


def _grant(document: dict[str, object], preset: str) -> dict[str, object]:
    kinds = {"percent": 20.0, "sum": 500.0, "per_m2": 50.0, "per_kwh": 0.05}
    kind = preset if preset in kinds else "percent"
    return {"name": "grant", "kind": kind, "amount": kinds[kind], "cap": None, "years": 1, "condition": ""}


def _fuel(document: dict[str, object], preset: str) -> dict[str, object]:
    return Fuel().model_dump(mode="json")


STEP = Step(
    key="money",
    title="Money",
    views=VIEWS,
    commands=commands,
    styles=("money/money.css",),
    rows={"money.grants": RowList(new=_grant), "money.fuels": RowList(new=_fuel)},
    actions=(
        Action(name="money-line", path="money/line", run=change_line),
        Action(name="money-add", path="money/add", run=add_line),
        Action(name="money-offer", path="money/offer", run=freeze_prices),
        Action(name="price", path="money/price", run=change_price),
        Action(name="prices-back", path="money/prices-back", run=undo_prices),
        Action(name="prices-read", path="money/prices-read", run=read_prices),
    ),
    downloads=(
        Download(name="cost-csv", path="money/parts.csv", file="parts-{letter}.csv", make=cost_csv),
        Download(name="years-csv", path="money/years.csv", file="years-{letter}.csv", make=years_csv),
        Download(name="prices-csv", path="money/prices.csv", file="prices.csv", make=book_csv, needs="edit"),
        Download(
            name="prices-sheet", path="money/prices.xlsx", file="prices.xlsx", make=book_spreadsheet, needs="edit"
        ),
    ),
)
