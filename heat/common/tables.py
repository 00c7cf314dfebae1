"""Guessing how a table of text is laid out: separator, decimal sign, heading, stamps. A person may correct the
guess.
"""

import csv
import io
import re
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

import pandas as pd

from heat.errors import HeatError, WeatherFileError

SEPARATORS = {";": ";", "tab": "\t", ",": ",", "space": " "}
NUMBER = re.compile(r"^[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?$")
STAMP = re.compile(r"\d{1,4}[-/.]\d{1,2}([-/.]\d{1,4})?|\d{1,2}:\d{2}|^\d{8}(:?\d{4})?$")
FORMATS = (
    "ISO8601",
    "%Y-%m-%d %H:%M",
    "%d.%m.%Y %H:%M",
    "%d/%m/%Y %H:%M",
    "%m/%d/%Y %H:%M",
    "%d.%m.%Y",
    "%d/%m/%Y",
    "%m/%d/%Y",
    "%Y%m%d:%H%M",
    "%Y%m%d%H%M",
    "%Y%m%d",
    "%d.%m.%y %H:%M",
    "%d.%m.%Y %H:%M:%S",
    "%d/%m/%Y %H:%M:%S",
    "%m/%d/%Y %H:%M:%S",
    "%m/%d/%Y %I:%M %p",
    "%m-%d %H:%M",
    "%d-%m-%Y %H:%M",
    "%d-%m-%Y",
)


MOST_LINES, MOST_COLUMNS, LONGEST_LINE = 120_000, 200, 40_000
"""What a table may hold: a year of five-minute values has 105,120 lines."""
LOOKED_AT = 400
"""Lines looked at to guess how a table is laid out."""


def within_limits(name: str, text: str) -> None:
    """Parameters
    ----------
    name
        Name of the file, for messages.
    text
        The table.

    Raises
    ------
    WeatherFileError
        For a table with more lines, columns or letters in a line than are read (no unit).
    """
    count = text.count("\n") + 1
    if count > MOST_LINES:
        raise WeatherFileError(
            name,
            f"{count:,} lines are more than the {MOST_LINES:,} that are read.",
            MOST_LINES,
            way_out="Give hours or days: a year has 8,760 or 365.",
        )
    lines = text.splitlines()
    longest = max(range(len(lines)), key=lambda i: len(lines[i]), default=0)
    if lines and len(lines[longest]) > LONGEST_LINE:
        raise WeatherFileError(
            name,
            f"a line of {len(lines[longest]):,} letters is longer than the {LONGEST_LINE:,} that are read.",
            longest + 1,
            way_out="Part the table into lines, one an hour or a day.",
        )
    for number, line in enumerate(lines[:LOOKED_AT], 1):
        columns = 1 + max(line.count(s) for s in ",;\t")
        if columns > MOST_COLUMNS:
            raise WeatherFileError(
                name,
                f"{columns:,} columns are more than the {MOST_COLUMNS} that are read.",
                number,
                way_out="Leave out the columns that are not needed.",
            )


@contextmanager
def reading(name: str, what: str = "this table", refused: Callable[[str], HeatError] | None = None) -> Iterator[None]:
    """Whatever a library raises at a broken file becomes one refusal: WeatherFileError, or what ``refused`` makes of
    the words.

    Parsers of other people's files raise nearly anything (ValueError, KeyError, csv.Error, zlib.error,
    struct.error, RecursionError, OverflowError); a file that nobody foresaw is still refused in words, with the
    kind of the error.

    Parameters
    ----------
    name
        Name of the file, for messages.
    what
        What is read, for messages.
    refused
        Makes an error of the words of a refusal.
    """
    try:
        yield
    except HeatError:
        raise
    except Exception as error:
        if refused is not None:
            raise refused(f"{what} cannot be read ({type(error).__name__}: {str(error)[:80]}).") from error
        raise WeatherFileError(
            name,
            f"{what} cannot be read ({type(error).__name__}).",
            way_out="Save or export it again; a table is best brought as CSV in UTF-8.",
        ) from error


@dataclass(frozen=True)
class Layout:
    """How a table is laid out (no unit): separator and decimal by name, line of the heading (0: none), column names,
    which column holds stamps (-1: none) and in which format, which hold numbers, and its first rows as text.
    """

    separator: str
    decimal: str
    heading_line: int
    names: tuple[str, ...]
    stamp: int
    stamp_format: str
    numeric: tuple[int, ...]
    rows: tuple[tuple[str, ...], ...]


FORMULA = ("=", "+", "-", "@", "\t", "\r")
"""Beginnings of a cell that a spreadsheet would evaluate."""
CONTROLS = re.compile("[\x00-\x1f\x7f\x85\u2028\u2029]+")
NUMBERS = re.compile(r"[-+]?\d[\d.]*(e[-+]?\d+)?( [-+]?\d[\d.]*(e[-+]?\d+)?)*", re.IGNORECASE)


def harmless(text: str) -> str:
    """A text as a cell that no spreadsheet takes for a formula: in one line, with an apostrophe before what begins
    like one and is no number.

    Parameters
    ----------
    text
        The text.

    Returns
    -------
    str
        The cell.
    """
    line = CONTROLS.sub(" ", text)
    return f"'{line}" if line.lstrip().startswith(FORMULA) and not NUMBERS.fullmatch(line) else line


def csv_table(rows: Iterable[Iterable[Any]]) -> str:
    """Rows as CSV (no unit is changed: headings name them): the one writer of tables, every text through
    :func:`harmless`, nothing for None and NaN.

    Parameters
    ----------
    rows
        The rows, headings first.

    Returns
    -------
    str
        Rows as CSV (no unit is changed: headings name them).
    """
    out = io.StringIO(newline="")
    csv.writer(out, lineterminator="\n").writerows([cell_of(value) for value in row] for row in rows)
    return out.getvalue()


def cell_of(value: Any) -> Any:
    """A value (no unit is changed) as a cell of a table that is taken away.

    Parameters
    ----------
    value
        The value of the cell.

    Returns
    -------
    Any
        The cell.
    """
    if isinstance(value, str):
        return harmless(value)
    return "" if value is None or value != value else value


def as_written(text: str) -> str:
    """What :func:`harmless` was given.

    Parameters
    ----------
    text
        A cell as :func:`harmless` made it.

    Returns
    -------
    str
        The text as it was given.
    """
    return text[1:] if text.startswith("'") and text[1:].startswith(FORMULA) else text


def cells(text: str, separator: str) -> list[list[str]]:
    """Lines parted into cells.

    Parameters
    ----------
    text
        The table.
    separator
        Character between cells.

    Returns
    -------
    list[list[str]]
        Lines parted into cells.
    """
    if separator == "space":
        return [line.split() for line in text.splitlines()]
    parted = csv.reader(io.StringIO(text), delimiter=SEPARATORS[separator])
    return [[cell.strip() for cell in row] for row in parted]


def number_of(text: str, decimal: str) -> float:
    """A cell as a number (no unit); NaN where it is none.

    Parameters
    ----------
    text
        The cell.
    decimal
        Decimal mark.

    Returns
    -------
    float
        The number; NaN where the cell is none.
    """
    tidy = text.strip().replace("\u00a0", "").replace("\u202f", "").replace(" ", "")
    tidy = tidy.replace(".", "").replace(",", ".") if decimal == "," else tidy.replace(",", "")
    try:
        return float(tidy)
    except ValueError:
        return float("nan")


def stamp_format(texts: list[str]) -> str:
    """The first format that reads every stamp; empty where none does.

    Parameters
    ----------
    texts
        The stamps.

    Returns
    -------
    str
        The first format.
    """
    for pattern in FORMATS:
        try:
            pd.to_datetime(pd.Series(texts), format=pattern)
        except (ValueError, TypeError):
            continue
        return pattern
    return ""


DAY_ONLY = ("%d.%m.%Y", "%d/%m/%Y", "%m/%d/%Y", "%Y%m%d", "ISO8601")
CLOCK = re.compile(r"(\d{1,2})[:h](\d{2})(?::(\d{2}))?\s*([ap]m)?", re.IGNORECASE)


def one_stamp(name: str, text: str) -> str:
    """A table whose days and times stand in two columns, with both in one, as stamps are read; others as they are.

    Parameters
    ----------
    name
        Name of the file, for messages.
    text
        The table.

    Returns
    -------
    str
        The table, its times beside their days.

    Raises
    ------
    WeatherFileError
        Where no column of numbers is found.
    """
    with reading(name):
        layout = _guessed(name, text)
        if layout.stamp < 0 or layout.stamp_format not in DAY_ONLY or layout.separator == "space":
            return text
        rows = cells(text, layout.separator)
        body = [row for row in rows[layout.heading_line :] if len(row) > layout.stamp and any(row)]
        if any(CLOCK.search(row[layout.stamp]) for row in body[:50]):
            return text  # it has its time
        of_time = lambda k: body and sum(bool(CLOCK.fullmatch(r[k])) for r in body if len(r) > k) > 0.9 * len(body)
        found = next((k for k in range(len(layout.names)) if k != layout.stamp and of_time(k)), None)
        if found is None:
            return text
        made = []
        halves = any((read := CLOCK.fullmatch(r[found])) and read[4] for r in body if len(r) > found)
        for row in rows:
            if len(row) > max(found, layout.stamp):
                read = CLOCK.fullmatch(row[found])
                if halves:  # who writes am and pm writes the month first
                    row[layout.stamp] = re.sub(r"^(\d{1,2})/(\d{1,2})/(\d{4})$", r"\3-\1-\2", row[layout.stamp])
                row[layout.stamp] = f"{row[layout.stamp]} {_clock(read) if read else row[found]}".strip()
                del row[found]
            made.append(SEPARATORS[layout.separator].join(f'"{cell}"' if '"' in cell else cell for cell in row))
        return "\n".join(made)


def _clock(read: re.Match[str]) -> str:
    """A time of the day, in 24 hours."""
    hour, half = int(read[1]), (read[4] or "").lower()
    if half:
        hour = hour % 12 + (12 if half == "pm" else 0)
    return f"{hour:02d}:{read[2]}" + (f":{read[3]}" if read[3] else "")


def guess_layout(name: str, text: str) -> Layout:
    """The likeliest layout of a table.

    Parameters
    ----------
    name
        Name of the file, for messages.
    text
        The table.

    Returns
    -------
    Layout
        The likeliest layout of a table.

    Raises
    ------
    WeatherFileError
        Where no column of numbers is found.
    """
    with reading(name):
        return _guessed(name, text)


def _guessed(name: str, text: str) -> Layout:
    lines = text.splitlines()[:LOOKED_AT]
    head = "\n".join(lines)

    def width(separator: str) -> tuple[int, int]:
        rows = [r for r in cells(head, separator) if any(r)]
        usual = max((len(r) for r in rows[-min(len(rows), 40) :]), default=0)
        return sum(len(r) == usual for r in rows) if usual > 1 else 0, usual

    separator = max(
        (";", "tab", ",", "space"), key=lambda s: (width(s)[0] * (0.5 if s == "space" else 1.0), width(s)[1])
    )
    if width(separator)[1] < 2:
        separator = ";"  # a single column of numbers
    rows = cells(head, separator)
    wide = max(width(separator)[1], 1)
    body = [
        i
        for i, r in enumerate(rows)
        if len(r) == wide
        and any(NUMBER.match(c.replace(" ", "")) for c in r)
        and not any(re.search(r"[A-Za-z]{3,}", c) for c in r)
    ]
    if not body:
        raise WeatherFileError(
            name,
            "no line of numbers was found.",
            way_out="Save the table as CSV with a heading and one line an hour or day.",
        )
    first = body[0]
    data = [rows[i] for i in body[:200]]
    joined = [c for r in data for c in r]
    commas = sum(bool(re.fullmatch(r"[+-]?\d+,\d+", c)) for c in joined)
    decimal = "," if separator != "," and commas > sum(bool(re.fullmatch(r"[+-]?\d*\.\d+", c)) for c in joined) else "."
    heading = first if first > 0 and len(rows[first - 1]) == wide else 0
    names = rows[first - 1] if heading else []
    names = [n or f"column {k + 1}" for k, n in enumerate(names or [""] * wide)]
    stamp, found = -1, ""
    for k in range(wide):
        column = [r[k] for r in data]
        if all(STAMP.search(c) for c in column) and not all(NUMBER.match(c) and len(c) < 8 for c in column):
            last = [c[k] for c in cells("\n".join(text.splitlines()[-60:]), separator) if len(c) == wide]
            found = stamp_format([*column, *[c for c in last if STAMP.search(c)]]) or stamp_format(column)
            if found:
                stamp = k
                break
    numeric = tuple(
        k
        for k in range(wide)
        if k != stamp and sum(number_of(r[k], decimal) == number_of(r[k], decimal) for r in data) > 0.5 * len(data)
    )
    if not numeric:
        raise WeatherFileError(name, "no column of numbers was found.", first + 1)
    return Layout(separator, decimal, heading, tuple(names), stamp, found, numeric, tuple(tuple(r) for r in data[:6]))
