"""The catalogue: generic parts shipped with a source and a date, tables of one's own, and how an entry enters a design.

An entry is a handful of a part's fields under their own names (such as ``eta0`` or ``loss_w_k``). A design that takes
one keeps a copy of it, so that changing the catalogue later changes no finished work.
"""

import csv
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from heat.common.documents import Document, Values, value_at
from heat.common.tables import as_written, csv_table
from heat.design import allowed_range
from heat.design.backup import Backup
from heat.design.base import Part
from heat.design.system import Coil, Collector, DrawCoil, Jacket, Loop, Pipe, Plate, Store
from heat.errors import HeatError, InputError

FOLDER = Path(__file__).parent / "data" / "catalogue"
LABELS = ("key", "name", "family", "source", "dated")
"""Columns of a table that are no values."""
MOST_ROWS = 500
"""Rows of one table read at most (1). Source: our own choice."""


@dataclass(frozen=True)
class Group:
    """A kind of part: its title, its type, where a design holds it, and the fields an entry may give."""

    title: str
    part: type[Part]
    prefixes: tuple[str, ...]
    fields: tuple[str, ...]


@dataclass(frozen=True)
class Entry:
    """One part of the catalogue: values under the field's names, in the fields' own units (such as W/K)."""

    group: str
    key: str
    name: str
    family: str
    source: str
    dated: str
    values: Values


_S = "system."
_PIPES = (f"{_S}loop.supply_pipe.", f"{_S}loop.return_pipe.")
GROUPS = {
    "collector": Group(
        "Collectors",
        Collector,
        (f"{_S}collector.",),
        (
            "area_m2",
            "area_basis",
            "gross_area_m2",
            "eta0",
            "a1_w_m2k",
            "a2_w_m2k2",
            "a3_j_m3k",
            "a4",
            "a5_kj_m2k",
            "a6_s_m",
            "rating",
            "test_flow_kg_h_m2",
            "iam",
            "iam_b0",
            "iam_beyond",
            "iam_table",
            "iam_across",
            "iam_diffuse",
            "trough",
            "acceptance_deg",
            "manifold",
            "tubes_inside",
            "tube_bore_mm",
            "tube_length_m",
        ),
    ),
    "store": Group(
        "Stores",
        Store,
        (f"{_S}store.",),
        ("volume_l", "loss_w_k", "top_loss_w_k", "floor_loss_w_k", "height_to_width", "open_vented", "relief_c"),
    ),
    "coil": Group("Coils", Coil, (f"{_S}coil.",), ("ua_w_k", "bottom_share", "top_share", "free_convection")),
    "plate": Group(
        "Exchangers beside the store", Plate, (f"{_S}plate.",), ("ua_w_k", "store_flow_kg_h", "store_pump_w")
    ),
    "jacket": Group("Jackets", Jacket, (f"{_S}jacket.",), ("ua_w_k", "bottom_share", "top_share")),
    "draw_coil": Group(
        "Draw coils",
        DrawCoil,
        (f"{_S}draw_coil.",),
        (
            "ua_w_k",
            "bottom_share",
            "top_share",
            "flow_l_min",
            "measured",
            "length_m",
            "outer_mm",
            "wall_mm",
            "material",
        ),
    ),
    "pipe": Group("Pipes", Pipe, _PIPES, ("material", "outer_diameter_mm", "wall_mm")),
    "insulation": Group("Pipe insulation", Pipe, _PIPES, ("insulation_mm", "insulation_w_mk")),
    "pump": Group("Pumps", Loop, (f"{_S}loop.",), ("pump_w", "drive.rule", "drive.least_share", "drive.lift_w")),
    "fluid": Group("Fluids", Loop, (f"{_S}loop.",), ("glycol_percent", "heat_capacity_j_kgk")),
    "heater": Group(
        "Heaters",
        Backup,
        (f"{_S}backup.",),
        (
            "tankless.fitted",
            "tankless.power_kw",
            "tankless.efficiency",
            "element.fitted",
            "element.power_kw",
            "element.height_share",
            "element.sensor_share",
            "element.set_c",
            "boiler.fitted",
            "boiler.power_kw",
            "boiler.set_c",
        ),
    ),
}
"""Every group of the catalogue."""


@cache
def entries(group: str = "collector") -> dict[str, Entry]:
    """The shipped entries of a group by key; values in the fields' own units (such as W/m²K).

    KeyError for no such group.

    Parameters
    ----------
    group
        Group of the catalogue.

    Returns
    -------
    dict[str, Entry]
        The shipped entries of a group by key; values in the fields' own units (such as W/m²K).
    """
    found, complaints = read_table(group, (FOLDER / f"{group}.csv").read_text())
    if complaints:
        raise complaints[0]
    return {entry.key: entry for entry in found}


def collector(key: str, count: int = 1) -> Collector:
    """A number of collectors (1) of a shipped entry.

    Parameters
    ----------
    key
        Key of the shipped entry.
    count
        Number of segments in use.

    Returns
    -------
    Collector
        A number of collectors (1) of a shipped entry.

    Raises
    ------
    KeyError
        For an unknown key.
    """
    return Collector(count=count, **entries()[key].values)


def checked(group: str, values: Values) -> Values:
    """Values of an entry as their part takes them, in the fields' own units (such as W/K).

    Parameters
    ----------
    group
        Group of the catalogue.
    values
        Values by field, each in its field's unit.

    Returns
    -------
    Values
        Values of an entry as their part takes them, in the fields' own units (such as W/K).

    Raises
    ------
    InputError
        By field.
    """
    chosen = GROUPS[group]
    nested: Values = {}
    for name, value in values.items():
        if name not in chosen.fields:
            raise InputError(name, value, f"one of {', '.join(chosen.fields)}")
        *parents, last = name.split(".")
        holder = nested
        for parent in parents:
            holder = holder.setdefault(parent, {})
        holder[last] = value
    try:
        made = chosen.part.model_validate(nested).model_dump(mode="json")
    except ValidationError as error:
        raise _refusal(chosen, error) from error
    return {name: value_at(made, name) for name in values}


def _refusal(group: Group, error: ValidationError) -> InputError:
    item = error.errors()[0]
    name = ".".join(str(p) for p in item["loc"])
    if item["type"] == "value_error":
        inner, _, text = str(item["ctx"]["error"]).partition("|")
        return InputError(".".join(p for p in (name, inner) if p), None, text)
    return InputError(name, item["input"], allowed_range(group.prefixes[0] + name) or item["msg"])


def changes(entry: Entry, document: Document) -> Values:
    """The changes that put an entry into a design document: its values (in their own units, such as W/K), and a copy.

    Fields of the group the entry does not give go back to their defaults.

    Parameters
    ----------
    entry
        The entry.
    document
        The design document; numbers in the units its schema names.

    Returns
    -------
    Values
        The changes that put an entry into a design document: its values (in their own units, such as W/K), and
        a copy.
    """
    group = GROUPS[entry.group]
    usual = group.part().model_dump(mode="json")
    values = {name: entry.values.get(name, value_at(usual, name)) for name in group.fields}
    copy = {
        "group": entry.group,
        "name": entry.name,
        "source": entry.source,
        "dated": entry.dated,
        "values": entry.values,
    }
    used = [stored for stored in document["system"]["used"] if stored["group"] != entry.group]
    found: Values = {p + name: v for p in group.prefixes for name, v in values.items()}
    if entry.group == "pump":
        found["system.loop.drive.curve"] = []  # the curve was another pump's
    return found | {"system.used": [*used, copy]}


def differs(used: Values, document: Document) -> list[str]:
    """Names of the values a design has changed since it took an entry.

    What the copy holds under a name that no part has any more, such as one renamed since, is passed over.

    Parameters
    ----------
    used
        The entry as the design took it.
    document
        The design document; numbers in the units its schema names.

    Returns
    -------
    list[str]
        Names of the values a design has changed since it took an entry.
    """
    group = GROUPS.get(used["group"])
    if group is None:
        return []
    stored = {name: value for name, value in used["values"].items() if name in group.fields}
    return [name for name, value in stored.items() if value_at(document, group.prefixes[0] + name) != value]


def read_table(group: str, text: str) -> tuple[list[Entry], list[HeatError]]:
    """Entries of a table, and what is wrong with rows left out: line (1 = first), column, allowed range with unit
    (such as °C).

    Columns ``name`` and any of the group's fields, in the fields' own units; ``family``, ``source``, ``dated`` if
    known. Parted by comma, semicolon or tab; lines that begin with # are comments.

    Parameters
    ----------
    group
        Group of the catalogue.
    text
        The table, parted by comma, semicolon or tab.

    Returns
    -------
    tuple[list[Entry], list[HeatError]]
        Entries of a table, and what is wrong with rows left out: line (1 = first), column, allowed range with
        unit (such as °C).

    Raises
    ------
    KeyError
        For an unknown group.
    """
    fields = GROUPS[group].fields
    lines = [
        (n, line)
        for n, line in enumerate(text.lstrip("\ufeff").splitlines(), 1)
        if line.strip() and not line.startswith("#")
    ]
    if not lines:
        return [], [HeatError("The table is empty: its first line names the columns, beginning with name.")]
    head = lines[0][1]
    mark = max(",;\t", key=head.count)
    try:
        names = _cells(head, mark)
    except HeatError as error:
        return [], [HeatError(f"Line {lines[0][0]}: {error}")]
    if "name" not in names:
        return [], [HeatError(f"Line {lines[0][0]}: a column called name is needed; found {', '.join(names)[:120]}.")]
    strange = [name for name in names if name not in (*LABELS, *fields)]
    if strange:
        known = f"name, family, source, dated, {', '.join(fields)}"
        return [], [HeatError(f"Line {lines[0][0]}: there is no column {strange[0][:40]!r} here. Known: {known}.")]
    found: list[Entry] = []
    complaints: list[HeatError] = []
    for number, line in lines[1 : MOST_ROWS + 1]:
        try:
            cells = _cells(line, mark)
            row = dict(zip(names, map(as_written, cells), strict=False))
            if len(cells) > len(names):
                raise HeatError(
                    f"{len(cells)} cells under {len(names)} headings; a text with {mark!r} in it needs quotes."
                )
            if not row.get("name"):
                raise HeatError("a name is needed.")
            given = {n: _cell(group, n, c, mark) for n, c in row.items() if n in fields and c != ""}
            found.append(
                Entry(
                    group,
                    row.get("key") or f"row_{number}",
                    row["name"][:80],
                    row.get("family", "")[:40],
                    row.get("source", "")[:200],
                    row.get("dated", "")[:10],
                    checked(group, given),
                )
            )
        except HeatError as error:
            complaints.append(HeatError(f"Line {number}: {error}"))
    if len(lines) - 1 > MOST_ROWS:
        complaints.append(HeatError(f"Only the first {MOST_ROWS} rows were read: split the table."))
    return found, complaints


def _cells(line: str, mark: str) -> list[str]:
    try:
        return [cell.strip() for cell in next(csv.reader([line], delimiter=mark))]
    except csv.Error as error:
        raise HeatError(f"this is no row of a table ({error}).") from error


def _cell(group: str, name: str, text: str, mark: str) -> Any:
    """A cell as its field takes it: a switch, a word, a number or a row of numbers parted by spaces."""
    usual = value_at(GROUPS[group].part().model_dump(mode="json"), name)
    if isinstance(usual, bool):
        if text.lower() not in ("true", "false", "yes", "no", "1", "0"):
            raise InputError(name, text, "true or false")
        return text.lower() in ("true", "yes", "1")
    if isinstance(usual, str):
        return text
    plain = text.replace(",", ".") if mark != "," else text
    try:
        return [float(p) for p in plain.split()] if isinstance(usual, list) else float(plain)
    except ValueError:
        raise InputError(name, text, allowed_range(GROUPS[group].prefixes[0] + name) or "a number") from None


def table_text(group: str, rows: Iterable[Entry]) -> str:
    """Entries as a table that :func:`read_table` reads back: values in the fields' own units (such as W/K).

    Parameters
    ----------
    group
        Group of the catalogue.
    rows
        The entries.

    Returns
    -------
    str
        Entries as a table that :func:`read_table` reads back: values in the fields' own units (such as W/K).
    """
    fields = GROUPS[group].fields
    return csv_table(
        [
            ("name", "family", *fields, "source", "dated"),
            *(
                [row.name, row.family, *(_text(row.values.get(name)) for name in fields), row.source, row.dated]
                for row in rows
            ),
        ]
    )


def _text(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "true" if value else "false"
    return " ".join(f"{v:g}" for v in value) if isinstance(value, list | tuple) else str(value)


def on_area(eta0: float, a1: float, a2: float, from_m2: float, to_m2: float) -> tuple[float, float, float]:
    """The same collector's eta0, a1 (W/m²K), a2 (W/m²K²) on another area: heat is the same, so each times from/to.

    Parameters
    ----------
    eta0
        Zero-loss efficiency (no unit).
    a1
        Linear heat loss coefficient (W/m²K).
    a2
        Quadratic heat loss coefficient (W/m²K²).
    from_m2
        Area the coefficients refer to (m²).
    to_m2
        Area they shall refer to (m²).

    Returns
    -------
    tuple[float, float, float]
        The same collector's eta0, a1 (W/m²K), a2 (W/m²K²) on another area: heat is the same, so each times
        from/to.
    """
    share = from_m2 / to_m2
    return eta0 * share, a1 * share, a2 * share
