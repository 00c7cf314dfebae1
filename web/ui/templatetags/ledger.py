"""Template components with declared arguments and a context of their own."""

from functools import lru_cache
from secrets import token_urlsafe
from typing import Any
from urllib.parse import urlencode

from django import template
from django.template.loader import get_template
from django.utils.html import format_html
from django.utils.safestring import SafeString

register = template.Library()
PENS_KEPT = 2000


@lru_cache(PENS_KEPT)
def _drawn(template: str, pen: Any, where: str, side: str) -> SafeString:
    """A pen as drawn: from one edit to the next most are the same."""
    return SafeString(get_template(template).render({"pen": pen, "where": where, "side": side}))


@register.simple_tag
def pen(sheet: Any, path: str, label: str = "", where: str = "p", side: str = "left") -> SafeString:
    """An editable value of the design at a path: input, unit, and any refusal beneath it."""
    return _drawn("ui/pen.html", sheet.pen(path, label), where, side)


@register.simple_tag
def ready_pen(pen: Any, where: str = "p", side: str = "left") -> SafeString:
    """The same for a pen already made."""
    return _drawn("ui/pen.html", pen, where, side)


@register.simple_tag
def row(pen: Any, where: str = "r") -> SafeString:
    """A labelled line with an editable value."""
    return _drawn("ui/row.html", pen, where, "left")


@register.simple_tag
def field_row(sheet: Any, path: str, label: str = "", where: str = "r") -> SafeString:
    """A labelled line with the editable value at a path."""
    return _drawn("ui/row.html", sheet.pen(path, label), where, "left")


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
