"""Every form of a page as a person could send it, with values that no one foresaw."""

import random
from dataclasses import dataclass, field
from html.parser import HTMLParser


@dataclass
class Form:
    """A form: where it goes, how, and what stands in it; ``buttons`` are its names and values to press."""

    action: str
    method: str
    values: dict[str, str] = field(default_factory=dict)
    buttons: list[tuple[str, str]] = field(default_factory=list)


class Forms(HTMLParser):
    """The forms and links of a page; fields that belong to a form elsewhere by its id count with it."""

    def __init__(self, page: str) -> None:
        super().__init__()
        self.forms: list[Form] = []
        self.links: list[str] = []
        self.paths: list[str] = []
        """Values of the design that the page edits."""
        self._open: Form | None = None
        self._select = ""
        self.feed(page)

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        attributes = {name: value or "" for name, value in attrs}
        if tag == "form":
            self._open = Form(attributes.get("action", ""), attributes.get("method", "get").lower())
            self.forms.append(self._open)
        elif tag == "a" and attributes.get("href", "").startswith(("/", "?")):
            self.links.append(attributes["href"])
        elif tag == "option" and self._select and self._open is not None and "selected" in attributes:
            self._open.values[self._select] = attributes.get("value", "")
        if "data-path" in attributes:
            self.paths.append(attributes["data-path"])
        name = attributes.get("name", "")
        if not name or self._open is None:
            return
        if tag == "button":
            self._open.buttons.append((name, attributes.get("value", "")))
        elif tag == "select":
            self._select = name
            self._open.values.setdefault(name, "")
        elif tag in ("input", "textarea"):
            self._open.values[name] = attributes.get("value", "")

    def handle_endtag(self, tag: str) -> None:
        if tag == "form":
            self._open = None
        elif tag == "select":
            self._select = ""


ODD = (
    "",
    " ",
    "x",
    "-1",
    "0",
    "1e308",
    "-1e308",
    "1e-308",
    "1e400",
    "9" * 400,
    "NaN",
    "inf",
    "\u00b2",
    "1,5",
    "1.500",
    "\x00",
    "\U0001f31e" * 9,
    "[1]",
    "{}",
    "null",
    "=1+1",
    "..",
    "2026-02-30",
    "9999-12-31",
    "0001-01-01",
    "12:99",
    "x" * 30_000,
    "1 2 3",
    "a,b;c\td",
    "%00",
    "\u202e",
    "90 12, 135",
    "90,0",
    "89.99, 180",
    "-66 0",
    "0 0",
)
"""What may be typed, pasted or sent."""


def spoilt(form: Form, dice: random.Random) -> dict[str, object]:
    """What a form sends with some of its values odd, missing or doubled, and one of its buttons pressed."""
    values: dict[str, object] = dict(form.values)
    values.pop("csrfmiddlewaretoken", None)
    values.pop("key", None)
    if form.buttons:
        name, value = dice.choice(form.buttons)
        values[name] = value
    names = [name for name in values if name not in ("screen", "do")] or list(values)
    for _ in range(dice.choice((1, 1, 2, 4))):
        if not names:
            break
        name, act = dice.choice(names), dice.random()
        if act < 0.1:
            values.pop(name, None)
        elif act < 0.2:
            values[name] = [dice.choice(ODD), dice.choice(ODD)]
        else:
            values[name] = dice.choice((*ODD, str(dice.randrange(400))))
    return values
