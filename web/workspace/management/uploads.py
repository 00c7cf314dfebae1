"""Uploads of every kind as they should not be, each by its own number: what a page or a program may be sent."""

import io
import json
import random
import zipfile
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cache
from hashlib import sha256
from typing import Any

from PIL import Image

from heat.catalogue import entries, table_text
from heat.design import Design
from heat.economics.prices import PRICES
from heat.tests.mangled import WAYS, mangled
from web.prices.books import csv_of, price_spreadsheet


@dataclass(frozen=True)
class UploadCase:
    """What is posted: below a design (``at``) or at an address, under which name, and what stands beside it."""

    kind: str
    at: str
    name: str
    raw: bytes
    input: str = "file"
    form: dict[str, object] = field(default_factory=dict)


@dataclass(frozen=True)
class Sound:
    """Where uploads go: a design's address, the number of a log, and a project's own file to be mangled."""

    base: str
    log: int
    project: bytes


def _text(raw: bytes, dice: random.Random) -> bytes:
    """A text mangled one way or another."""
    try:
        return dice.choice(WAYS)(raw.decode("latin-1"), dice).encode("utf-8", "surrogatepass")
    except (IndexError, TypeError, AttributeError):  # too little in it for that way
        return _bytes(raw, dice)


def _bytes(raw: bytes, dice: random.Random) -> bytes:
    """Some bytes flipped, cut or doubled."""
    made = bytearray(raw)
    for _ in range(dice.choice((1, 3, 60))):
        made[dice.randrange(len(made))] = dice.randrange(256)
    cut = dice.randrange(len(made))
    return bytes(made[:cut] if dice.random() < 0.25 else made)


@cache
def _readings() -> bytes:
    rows = [f"2026-05-{1 + h // 24:02d} {h % 24:02d}:00;{20 + h % 24};{30 + h % 7};{h % 2}" for h in range(24 * 9)]
    return ("time;collector;store bottom;pump\n" + "\n".join(rows)).encode()


@cache
def _load() -> bytes:
    return ("hour,litres\n" + "\n".join(f"{h},{5 + h % 9}" for h in range(8760))).encode()


@cache
def _picture(kind: str) -> bytes:
    out = io.BytesIO()
    Image.linear_gradient("L").convert("RGB").resize((300, 200)).save(out, kind)
    return out.getvalue()


def _zip(raw: bytes, dice: random.Random) -> bytes:
    """A project's file with one of its files mangled and its checksums right, or its bytes changed."""
    if dice.random() < 0.25:
        return _bytes(raw, dice)
    with zipfile.ZipFile(io.BytesIO(raw)) as packed:
        members = {name: packed.read(name) for name in packed.namelist()}
    names = [n for n in members if n != "checksums.txt" and not n.endswith(".upload")]
    name = dice.choice([*names, *["project.json", "logs.json"] * 3])
    members[name] = _json(members[name], dice) if name.endswith(".json") else _text(members[name], dice)
    sums = [f"{sha256(part).hexdigest()}  {n}" for n, part in members.items() if n != "checksums.txt"]
    members["checksums.txt"] = "\n".join(sums).encode()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for n, part in members.items():
            packed.writestr(n, part)
    return out.getvalue()


ODD: tuple[Any, ...] = (
    None,
    [],
    {},
    "x",
    "\x00\ud800",
    10**400,
    1e308,
    -1,
    float("nan"),
    True,
    [[1]],
    "9999-12-31T23:59:59+00:00",
    "2026-05-01T10:00:00",
    "0001-01-01T00:00:00+23:59",
    "A" * 5000,
    2**40,
)


def _json(raw: bytes, dice: random.Random) -> bytes:
    """A document with one value, anywhere in it, something else."""
    document = json.loads(raw)
    holder: Any = document
    while True:
        keys = list(holder) if isinstance(holder, dict) else list(range(len(holder)))
        if not keys:
            return _text(raw, dice)
        key = dice.choice(keys)
        inner = holder[key]
        if not isinstance(inner, dict | list) or not inner or dice.random() < 0.15:
            holder[key] = dice.choice(ODD)
            return json.dumps(document).encode()
        holder = inner


KINDS: dict[str, Callable[[random.Random, Sound], UploadCase]] = {}


def _kind(make: Callable[[random.Random, Sound], UploadCase]) -> Callable[[random.Random, Sound], UploadCase]:
    KINDS[make.__name__] = make
    return make


@_kind
def weather(dice: random.Random, _sound: Sound) -> UploadCase:
    """A weather file."""
    name, raw = mangled(dice.randrange(10**9))
    return UploadCase("weather", "weather", name, raw)


@_kind
def load(dice: random.Random, _sound: Sound) -> UploadCase:
    """A measured load."""
    return UploadCase("load", "load", "load.csv", _text(_load(), dice))


@_kind
def readings(dice: random.Random, sound: Sound) -> UploadCase:
    """Readings from a table."""
    return UploadCase("readings", "log/bring", "log.csv", _text(_readings(), dice), form={"log": sound.log})


@_kind
def prices(dice: random.Random, _sound: Sound) -> UploadCase:
    """A price book."""
    if dice.random() < 0.3:
        return UploadCase("prices", "money/prices-read", "prices.xlsx", _bytes(price_spreadsheet(PRICES, "EUR"), dice))
    return UploadCase("prices", "money/prices-read", "prices.csv", _text(csv_of(PRICES, "EUR").encode(), dice))


@_kind
def catalogue(dice: random.Random, _sound: Sound) -> UploadCase:
    """A table of collectors."""
    rows = [entry for entry in entries().values() if entry.group == "collector"]
    raw = table_text("collector", rows).encode()
    return UploadCase("catalogue", "/catalogue/collector/table", "parts.csv", _text(raw, dice))


@_kind
def design(dice: random.Random, _sound: Sound) -> UploadCase:
    """A design document."""
    raw = json.dumps(Design().model_dump(mode="json")).encode()
    return UploadCase("design", "paper/bring", "design.json", dice.choice((_json, _json, _text))(raw, dice))


@_kind
def project(dice: random.Random, sound: Sound) -> UploadCase:
    """A whole project."""
    return UploadCase("project", "/projects/bring", "project.zip", _zip(sound.project, dice), form={"prices": "1"})


@_kind
def photograph(dice: random.Random, sound: Sound) -> UploadCase:
    """A photograph of the built system."""
    raw = _bytes(_picture(dice.choice(("JPEG", "PNG"))), dice)
    form = {"log": sound.log, "remark": "gauge"}
    return UploadCase("photograph", "log/photo", "gauge.jpg", raw, input="photo", form=form)


@_kind
def logo(dice: random.Random, _sound: Sound) -> UploadCase:
    """The picture of a letterhead."""
    return UploadCase("logo", "paper/letterhead", "logo.png", _bytes(_picture("PNG"), dice), input="logo")


def upload(number: int, sound: Sound) -> UploadCase:
    """The upload of a number: kinds in turn, each mangled by its own dice."""
    dice = random.Random(number)
    return list(KINDS.values())[number % len(KINDS)](dice, sound)
