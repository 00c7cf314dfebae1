"""Template components with declared arguments and a context of their own."""

import json
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
def value_text(page: Any, path: str) -> str:
    """The value at a path where it is not edited: with its unit, or that it is calculated."""
    found = page.field(path, "")
    return f"{found.text}\u202f{found.sign}".strip() if found.text else found.none


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
        '<a class="term" href="{}#{}" hx-get="{}" hx-target="#term" hx-swap="innerHTML" '
        'aria-label="What {} means">?</a>',
        reverse("glossary"),
        key,
        reverse("term", args=(key,)),
        found.name.lower(),
    )


@register.simple_tag
def vals(**values: object) -> SafeString:
    """What a request sends besides its element's own value; what is empty is left out."""
    empty = lambda value: value is None or value is False or value == ""
    given = {name: "1" if value is True else str(value) for name, value in values.items() if not empty(value)}
    return format_html('hx-vals="{}"', json.dumps(given, ensure_ascii=False))


@register.simple_tag
def live(view: str, *args: object) -> SafeString:
    """A form that answers as it is filled in: its page is asked again with what it holds, and its main part redrawn."""
    return format_html(
        'hx-get="{}" hx-trigger="change, submit" hx-target="main" hx-select="main" hx-swap="outerMorph" '
        'hx-replace-url="true" hx-sync="this:replace"',
        reverse(view, args=args),
    )


@register.simple_tag
def moved(now: Any, by: int) -> SafeString:
    """The query of the hour so many hours on."""
    then = now.shifted(by)
    return format_html("day={}&amp;hour={}", then.day, then.hour)


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
