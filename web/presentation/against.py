"""What the money of every design of a project is measured against, in words."""

from web.editor.design_page import DesignPage
from web.projects.old_heaters import first_design
from web.ui import units


def measured_against(page: DesignPage) -> str:
    """The heater of the house without solar, where its values come from, and that it is one for all designs."""
    old, typed = page.old_heaters, page.document["money"].get("old", {})
    stated = any(typed.get(name) not in (None, "") for name in ("burns", "efficiency", "price_kwh"))
    heater = "electric heater" if old.burns == "power" else f"{old.burns} heater"
    words = (
        f"Every design is measured against one house without solar: {heater}, efficiency "
        f"{units.number(old.efficiency or 0.0, 2)}, {page.money(old.price_kwh or 0.0, 3)} a kilowatt-hour"
    )
    if old.standing_w:
        words += f", {units.number(old.standing_w, 0)} W standing loss"
    return f"{words}, {'as typed' if stated else f'as design {first_design(page.design).letter} has it'}."
