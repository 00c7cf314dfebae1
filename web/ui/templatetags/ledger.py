"""Template components with declared arguments and a context of their own."""

from typing import Any

from django import template

register = template.Library()


@register.inclusion_tag("ui/pen.html")
def pen(sheet: Any, path: str, label: str = "", where: str = "p", side: str = "left") -> dict[str, Any]:
    """An editable value of the design at a path: input, unit, and any refusal beneath it."""
    return {"pen": sheet.pen(path, label), "where": where, "side": side, "named": False}


@register.inclusion_tag("ui/pen.html")
def ready_pen(pen: Any, where: str = "p", side: str = "left") -> dict[str, Any]:
    """The same for a pen already made."""
    return {"pen": pen, "where": where, "side": side}


@register.inclusion_tag("ui/row.html")
def row(pen: Any, where: str = "r") -> dict[str, Any]:
    """A labelled line with an editable value."""
    return {"pen": pen, "where": where}


@register.inclusion_tag("ui/row.html")
def field_row(sheet: Any, path: str, label: str = "", where: str = "r") -> dict[str, Any]:
    """A labelled line with the editable value at a path."""
    return {"pen": sheet.pen(path, label), "where": where}
