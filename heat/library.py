"""The core from Python: read a design and its weather, simulate, compare. Exported by :mod:`heat`, and stable."""

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import product
from os import PathLike
from pathlib import Path
from typing import Any, Literal

import numpy as np
import pandas as pd
from pydantic import ValidationError

from heat.common.documents import Values
from heat.design import Design, parse
from heat.design.changing import with_changes
from heat.errors import HeatError, WeatherFileError
from heat.ledger import accounts as acc
from heat.ledger.accounts import ACCOUNTS
from heat.ledger.year_book import YearBook
from heat.simulation.year import simulate as simulate_book
from heat.studies import figures as yearly
from heat.weather.checks import checked
from heat.weather.columns import ColumnMap
from heat.weather.readers import read_weather as read_bytes_of_weather
from heat.weather.year import WeatherYear

MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
LARGEST_MB = 60
Fraction = Literal["at_use", "of_supply", "fuel_saved"]


def contents(path: Path) -> bytes:
    """Read the bytes of a file.

    Parameters
    ----------
    path : Path
        A file of 60 MB at most.

    Returns
    -------
    bytes
        As they are (no unit).

    Raises
    ------
    HeatError
        Where there is no such file, or it is larger.
    """
    if not path.is_file():
        raise HeatError(f"{path}: there is no such file.")
    if path.stat().st_size > LARGEST_MB * 1_000_000:
        raise HeatError(f"{path}: larger than {LARGEST_MB} MB; this is not a design or a weather year.")
    return path.read_bytes()


def read_design(source: str | PathLike[str] | Mapping[str, Any]) -> Design:
    """Read a design from a file or a mapping; what it leaves out takes its default.

    Parameters
    ----------
    source : path or mapping
        A design document (``docs/format.md``); each number in its field's unit (such as L). Earlier versions are read
        too.

    Returns
    -------
    Design
        Frozen and valid.

    Raises
    ------
    HeatError
        With the value, where it stands, what is allowed and the way out.
    """
    if isinstance(source, Mapping):
        return parse(dict(source))
    path = Path(source)
    try:
        document = json.loads(contents(path).decode("utf-8-sig"))
    except UnicodeDecodeError as error:
        raise HeatError(f"{path}: this is not text in UTF-8.") from error
    except json.JSONDecodeError as error:
        raise HeatError(f"{path}, line {error.lineno}: not valid JSON: {error.msg}.") from error
    if not isinstance(document, dict):
        raise HeatError(f"{path}: a design is an object with demand, site, plane, system and numerics.")
    return parse(document)


def read_weather(path: str | PathLike[str], columns: str | PathLike[str] | None = None) -> WeatherYear:
    """Read a year of weather and check it.

    Parameters
    ----------
    path : path
        EPW, TMY3, TM2, a PVGIS typical year, twelve means (JSON), or any hourly table.
    columns : path, optional
        A column map (JSON) for a table of another layout.

    Returns
    -------
    WeatherYear
        8,760 hours; irradiance in W/m², air in °C; repairs among its ``notes``.

    Raises
    ------
    WeatherFileError
        With file, line, column and reason.
    """
    mapped = None
    if columns is not None:
        try:
            mapped = ColumnMap.model_validate_json(contents(Path(columns)))
        except ValidationError as error:
            first = error.errors()[0]
            where = ".".join(str(p) for p in first["loc"])
            raise WeatherFileError(str(columns), f"{where}: {first['msg']}.") from error
    found = Path(path)
    return checked(read_bytes_of_weather(found.name, contents(found), mapped))[0]


@dataclass(frozen=True)
class Year:
    """A simulated year.

    Attributes
    ----------
    design : Design
    weather : WeatherYear
    book : YearBook
        The hourly accounts themselves, for whoever needs more than the tables below.
    """

    design: Design
    weather: WeatherYear
    book: YearBook

    @cached_property
    def fractions(self) -> dict[Fraction, float]:
        """Solar fractions (0 to 1): of the heat asked for at the use, of supply, of fuel saved."""
        found = self.book.fractions
        return {"at_use": found.at_tap, "of_supply": found.of_supply, "fuel_saved": found.fuel_saved}

    @cached_property
    def energy_kwh(self) -> dict[str, float]:
        """Every account of the year (kWh) by its name in ``ACCOUNTS``."""
        return {name: self.book.total(i) for i, name in enumerate(acc.NAMES)}

    @cached_property
    def months(self) -> pd.DataFrame:
        """Every account by month: twelve rows, a column ``<account>_kwh`` each."""
        found = {f"{name}_kwh": self.book.months[:, i] for i, name in enumerate(acc.NAMES)}
        return pd.DataFrame(found, index=pd.Index(MONTHS, name="month"))

    @cached_property
    def hours(self) -> pd.DataFrame:
        """8,760 rows: accounts that are not empty (``_wh``), traces and layers, each with its unit in its name."""
        return hours_table(self.book)

    @cached_property
    def figures(self) -> dict[str, float]:
        """The year in some sixty numbers; each key ends in its unit."""
        return yearly.figures(self.book, self.weather)


def hours_table(book: YearBook) -> pd.DataFrame:
    """Every account and trace of a year by hour.

    Parameters
    ----------
    book : YearBook
        The year's accounts and traces, hour by hour.

    Returns
    -------
    pandas.DataFrame
        8,760 rows; each column's name ends in its unit (Wh, °C, kg/h: ``_wh``, ``_c``, ``_kg_h``).
    """
    data: Values = {"hour": range(len(book.books))}
    for i, name in enumerate(acc.NAMES):
        if book.books[:, i].any():
            data[f"{name}_wh"] = book.books[:, i]
    for i, name in enumerate(acc.TRACE_NAMES):
        if book.traces[:, i].any():
            data[name] = book.traces[:, i]
    for k in range(book.profile.shape[1]):
        data[f"layer_{k + 1}_c"] = book.profile[:, k]
    data["residual_wh"] = book.residual_wh
    return pd.DataFrame(data)


def simulate(design: Design | Mapping[str, Any], weather: WeatherYear, **numerics: Any) -> Year:
    """Simulate the year of a design.

    Parameters
    ----------
    design : Design or mapping
        A design, or its document.
    weather : WeatherYear
        The weather of its site, 8,760 hours.
    **numerics
        ``layers`` (1), ``step_minutes`` (minutes, 1 to 15), ``inflow``, ``first_day``, ``sky``: in place of the
        design's.

    Returns
    -------
    Year

    Raises
    ------
    HeatError
        Where a value is refused, or no heat can be calculated.

    References
    ----------
    The equations and their sources: ``docs/physics.md``.
    """
    if numerics or not isinstance(design, Design):
        document = (design if isinstance(design, Design) else parse(dict(design))).model_dump(mode="json")
        design = parse(with_changes(document, {"numerics": document["numerics"] | numerics}))
    return Year(design, weather, simulate_book(design, weather))


def variants(design: Design, axes: Mapping[str, Sequence[Any]]) -> dict[tuple[Any, ...], Design]:
    """Put values into a design, one design for every combination.

    Parameters
    ----------
    design : Design
        The design that is varied.
    axes : mapping of path to values
        Dotted paths of the document (``system.store.volume_l``); values in the field's unit (such as L).

    Returns
    -------
    dict
        By the combination's values, in the order of ``axes``.

    Raises
    ------
    HeatError
        For a value that is refused; KeyError for a path that is not there.
    """
    base = design.model_dump(mode="json")
    return {
        values: parse(with_changes(base, dict(zip(axes, values, strict=True)))) for values in product(*axes.values())
    }


def compare(designs: Mapping[Any, Design] | Iterable[Design], weather: WeatherYear) -> pd.DataFrame:
    """Years of several designs beside each other.

    Parameters
    ----------
    designs : mapping of name to Design, or designs
        Without names they are numbered from 0.
    weather : WeatherYear
        The weather of their site, 8,760 hours.

    Returns
    -------
    pandas.DataFrame
        A row for each design, a column for each figure (its name ends in its unit, such as kWh); nan where a design
        has none.
    """
    named = dict(designs) if isinstance(designs, Mapping) else dict(enumerate(designs))
    rows = [simulate(one, weather).figures for one in named.values()]
    if named and all(isinstance(key, tuple) for key in named):
        return pd.DataFrame(rows, index=pd.MultiIndex.from_tuples(list(named)), dtype=np.float64)
    return pd.DataFrame(rows, index=pd.Index(list(named), name="design"), dtype=np.float64)


__all__ = [
    "ACCOUNTS",
    "Design",
    "HeatError",
    "WeatherYear",
    "Year",
    "compare",
    "read_design",
    "read_weather",
    "simulate",
    "variants",
]
