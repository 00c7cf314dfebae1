"""Template components with declared arguments and a context of their own."""

from secrets import token_urlsafe
from typing import Any
from urllib.parse import urlencode

from django import template
from django.utils.html import format_html
from django.utils.safestring import SafeString

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


@register.simple_tag
def key() -> SafeString:
    """A form's own key: sent twice, by a double click or after a lost answer, it is done once."""
    return format_html('<input type="hidden" name="key" value="{}">', token_urlsafe(15))


@register.simple_tag(takes_context=True)
def relook(context: dict[str, Any], toggle: bool = False, **values: str) -> str:
    """The page's own address with values put in; ``toggle`` puts one into a row parted by commas, or takes it out."""
    query = dict(context["sheet"].look.asked)
    for name, value in values.items():
        if toggle:
            row = [part for part in query.get(name, "").split(",") if part]
            value = ",".join(part for part in row if part != value) if value in row else ",".join([*row, value])
        query[name] = value
    return "?" + urlencode({name: value for name, value in query.items() if value})
