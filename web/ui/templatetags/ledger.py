"""Template components with declared arguments and a context of their own."""

from functools import lru_cache
from secrets import token_urlsafe
from typing import Any
from urllib.parse import urlencode

from django import template
from django.template.loader import get_template
from django.urls import reverse
from django.utils.html import format_html
from django.utils.safestring import SafeString

from web.ui.glossary import by_key
from web.ui.rows import Row

register = template.Library()
FIELDS_CACHED = 2000


@lru_cache(FIELDS_CACHED)
def _drawn(template: str, field: Any, where: str, side: str) -> SafeString:
    """A field as drawn: from one edit to the next most are the same."""
    return SafeString(get_template(template).render({"field": field, "where": where, "side": side}))


@register.simple_tag
def field(page: Any, path: str, label: str = "", where: str = "p", side: str = "left") -> SafeString:
    """An editable value of the design at a path: input, unit, and any refusal beneath it."""
    return _drawn("ui/field.html", page.field(path, label), where, side)


@register.simple_tag
def ready_field(field: Any, where: str = "p", side: str = "left") -> SafeString:
    """The same for a field already made."""
    return _drawn("ui/field.html", field, where, side)


@register.simple_tag
def row(field: Any, where: str = "r") -> SafeString:
    """A labelled line with an editable value."""
    return _drawn("ui/row.html", field, where, "left")


@register.simple_tag
def field_row(page: Any, path: str, label: str = "", where: str = "r") -> SafeString:
    """A labelled line with the editable value at a path."""
    return _drawn("ui/row.html", page.field(path, label), where, "left")


@register.simple_tag
def term(key: str) -> SafeString:
    """The “?” beside a term of the glossary. KeyError for one that is not in it."""
    found = by_key()[key]
    return format_html(
        '<a class="term" href="{}#{}" data-term="{}" aria-label="What {} means">?</a>',
        reverse("glossary"),
        key,
        key,
        found.name.lower(),
    )


@register.simple_tag
def key() -> SafeString:
    """A form's own key: sent twice, by a double click or after a lost answer, it is done once."""
    return format_html('<input type="hidden" name="key" value="{}">', token_urlsafe(15))


@register.simple_tag(takes_context=True)
def relook(context: Row, toggle: bool = False, **values: str) -> str:
    """The page's own address with values put in; ``toggle`` puts one into a row parted by commas, or takes it out."""
    query = dict(context["page"].state.requested)
    for name, value in values.items():
        if toggle:
            row = [part for part in query.get(name, "").split(",") if part]
            value = ",".join(part for part in row if part != value) if value in row else ",".join([*row, value])
        query[name] = value
    return "?" + urlencode({name: value for name, value in query.items() if value})
