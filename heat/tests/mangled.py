"""Weather files as they should not be: real ones mangled at random, each by its own number."""

import json
import random
from collections.abc import Callable
from functools import cache
from pathlib import Path

from heat.tests.samples import EXAMPLES, TMY3

DATA = Path(__file__).parent / "data"
ODD = (
    "nan",
    "inf",
    "-inf",
    "1e400",
    "-1e308",
    "9" * 400,
    "x" * 140_000,
    "",
    "\u00b2",
    '"',
    "null",
    "-9999",
    "1,2",
    "\x00",
    "\U0001f31e",
    "[" * 3000,
    "{}",
    "99:99",
    "2023-02-30",
)
FILES = ("pvgis_tmy_45N_8E.csv", "pvgis_tmy_45N_8E.epw", "pvgis_tmy_45N_8E.json")


@cache
def sound() -> tuple[tuple[str, bytes], ...]:
    """The files that are mangled, by name."""
    stored = [(name, (DATA / name).read_bytes()) for name in FILES]
    stored += [(path.name, path.read_bytes()) for path in sorted((EXAMPLES / "weather").glob("*.json"))]
    return (*stored, (TMY3.name, TMY3.read_bytes()))


def _cut(text: str, dice: random.Random) -> str:
    return text[: dice.randrange(len(text))]


def _bytes_changed(text: str, dice: random.Random) -> str:
    letters = list(text)
    for _ in range(dice.choice((1, 5, 200))):
        letters[dice.randrange(len(letters))] = chr(dice.choice((0, 10, 44, 59, 48, 97, 255, 0x2028)))
    return "".join(letters)


def _field_changed(text: str, dice: random.Random) -> str:
    """One field, more often of the heading, is something odd."""
    lines = text.splitlines()
    row = dice.randrange(min(len(lines), 20)) if dice.random() < 0.7 else dice.randrange(len(lines))
    sign = ":" if text.lstrip().startswith("{") else ","
    cells = lines[row].split(sign)
    cells[dice.randrange(len(cells))] = dice.choice(ODD)
    lines[row] = sign.join(cells)
    return "\n".join(lines)


def _lines_changed(text: str, dice: random.Random) -> str:
    lines = text.splitlines()
    for _ in range(dice.choice((1, 3, 500))):
        at = dice.randrange(len(lines))
        act = dice.randrange(3)
        if act == 0:
            del lines[at]
        elif act == 1:
            lines.insert(at, lines[dice.randrange(len(lines))])
        else:
            lines[at] = lines[at][::-1]
        if not lines:
            break
    return "\n".join(lines)


def _json_changed(text: str, dice: random.Random) -> str:
    """A document with one of its values something else."""
    try:
        document = json.loads(text)
    except ValueError:
        return _field_changed(text, dice)
    holder, key = document, dice.choice(list(document))
    while isinstance(holder[key], dict) and holder[key] and dice.random() < 0.8:
        holder = holder[key]
        key = dice.choice(list(holder))
    holder[key] = dice.choice(
        (None, [], {}, "x", "\x00\ud800", 10**400, float("nan"), float("inf"), -1e308, True, [[1]])
    )
    return json.dumps(document)


WAYS: tuple[Callable[[str, random.Random], str], ...] = (
    _cut,
    _bytes_changed,
    _field_changed,
    _field_changed,
    _lines_changed,
    _json_changed,
    _json_changed,
)


def mangled(number: int) -> tuple[str, bytes]:
    """Name and bytes of the file of a number (no unit)."""
    dice = random.Random(number)
    name, raw = dice.choice(sound())
    text = dice.choice(WAYS)(raw.decode("latin-1"), dice)
    return name, text.encode("utf-8", "surrogatepass")
