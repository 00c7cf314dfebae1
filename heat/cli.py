"""The command line of the core: one design, one weather file, the year. No database, no interface.

``python -m heat.cli simulate DESIGN.json --weather FILE [--columns MAP.json] [--out hours.csv|.parquet] [--json]``
"""

import argparse
import json
import sys
from concurrent.futures import ProcessPoolExecutor
from contextlib import nullcontext
from pathlib import Path

import pandas as pd

from heat.common.compiled import cache_folder
from heat.common.documents import Values
from heat.design import parse
from heat.design.contradictions import warnings
from heat.errors import HeatError
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, LOADS, LOSSES, NEEDED, SOLAR_IN, SUN, YearBook
from heat.library import MONTHS, Year, contents, hours_table, read_design, read_weather, simulate
from heat.studies.effects import effects
from heat.studies.figures import figures, part_powers
from heat.studies.outcome import KEYS, Outcomes, evaluate_designs
from heat.studies.plans import Levels, plan
from heat.studies.question import Question, design_of, meets_limits, names_of, question_of, table
from heat.weather.cold import cold_of
from heat.weather.year import WeatherYear


def write_hours(book: YearBook, path: Path) -> None:
    """Write the hours (Wh, °C) as CSV or Parquet by the file's ending. Raises HeatError for another ending."""
    table = hours_table(book)
    if path.suffix == ".csv":
        table.to_csv(path, index=False, float_format="%.6g")
    elif path.suffix == ".parquet":
        from fastparquet import write

        write(str(path), table)
    else:
        raise HeatError(f"{path}: hours are written as .csv or .parquet.")


def as_document(year: Year) -> Values:
    """The year as one object, by the names of :class:`heat.Year`: fractions, energy and months (kWh), figures; beside
    them weather, power (kW) and warnings.
    """
    book, weather = year.book, year.weather
    used = [i for i in range(acc.COLUMNS) if book.books[:, i].any()]
    return {
        "weather": {
            "name": weather.name,
            "kind": weather.kind,
            "checksum": weather.checksum(),
            "notes": [n.text for n in weather.notes],
        },
        "fractions": year.fractions,
        "figures": year.figures,
        "energy_kwh": {acc.NAMES[i]: book.total(i) for i in used},
        "months_kwh": {acc.NAMES[i]: book.months[:, i].tolist() for i in used},
        "power_kw": {name: {"peak": peak, "mean": mean} for name, (peak, mean) in part_powers(book).items()},
        "warnings": [f"{w.path}: {w.text} {w.way_out}" for w in warnings(book.design, cold_of(weather).safe_from_c)],
    }


def report(book: YearBook, weather: WeatherYear) -> str:
    """The year as a person reads it: months (kWh), where heat went, figures, cautions."""
    columns = {
        "sun": book.by_month(*SUN),
        "solar in": book.by_month(*SOLAR_IN),
        "needed": book.by_month(*NEEDED),
        "bought": book.by_month(*BOUGHT),
        "unmet": book.by_month(acc.UNMET),
    }
    lines = [
        f"{book.design.system.scheme.words}   weather: {weather.name}",
        "",
        "kWh   " + "".join(f"{name:>10}" for name in columns) + "   fraction",
    ]
    fraction = book.fraction_by_month()
    for m, name in enumerate(MONTHS):
        row = "".join(f"{values[m]:10.0f}" for values in columns.values())
        needed = columns["needed"][m] > 0.5
        lines.append(f"{name:6}" + row + (f"{100 * fraction[m]:9.0f} %" if needed else " " * 10))
    lines.append(
        "year  " + "".join(f"{v.sum():10.0f}" for v in columns.values()) + f"{100 * book.fractions.at_tap:9.1f} %"
    )
    lines += ["", "lost, kWh:  " + "   ".join(f"{n} {book.total(*c):.0f}" for n, c in LOSSES.items() if book.total(*c))]
    given = {n: book.total(g) for n, (_a, g) in LOADS.items()} | {"pool": book.total(acc.INTO_POOL, acc.TO_POOL)}
    lines += ["given, kWh: " + "   ".join(f"{n} {v:.0f}" for n, v in given.items() if v), ""]
    for name, value in figures(book, weather).items():
        lines.append(f"  {name:34} {value:12.3f}")
    for w in warnings(book.design, cold_of(weather).safe_from_c):
        lines.append(f"  ! {w.path}: {w.text} {w.way_out}")
    lines.append("  Local codes apply; gas, electrical, pressure and roof work are for licensed trades.")
    return "\n".join(lines)


def swept(path: Path, weather: WeatherYear, out: Path | None, workers: int) -> str:
    """All combinations of a question's answers calculated, what decides in words, the table written (columns end in
    their unit, such as bought_kwh). Raises HeatError.
    """
    try:
        found = json.loads(contents(path).decode("utf-8-sig"))
    except ValueError as error:
        raise HeatError(f"{path}: not valid JSON: {error}.") from error
    if not isinstance(found, dict):
        raise HeatError(f"{path}: a question is an object with design and questions.")
    if out is not None and out.suffix not in (".csv", ".parquet"):
        raise HeatError(f"{out}: a table is written as .csv or .parquet.")
    base = parse(found.pop("design", {})).model_dump(mode="json")
    question = question_of(found)
    levels = plan(question.counts, question.most, question.seed)
    designs = [design_of(base, question, row) for row in levels]
    with ProcessPoolExecutor(workers) if workers > 1 else nullcontext() as executor:
        years = evaluate_designs(designs, weather, executor=executor, workers=1)
    rows = pd.DataFrame(table(question, levels, years.figures, years.refused))
    if out is not None and out.suffix == ".csv":
        rows.to_csv(out, index=False, float_format="%.6g")
    elif out is not None:
        from fastparquet import write

        write(str(out), rows)
    return decided(question, levels, years)


def decided(question: Question, levels: Levels, years: Outcomes) -> str:
    """What decides the solar fraction (points of a hundred), question by question, and the best within the limits."""
    deciding = effects(levels, question.counts, 100.0 * years["fraction"])
    lines = [f"{len(levels)} years, {len(years.refused)} refused. Solar fraction, %:", ""]
    for requested, found in zip(question.questions, deciding.questions, strict=True):
        lines.append(f"{requested.name}: {100 * found.share:.0f} % of the differences")
        lines += [
            f"  {answer.name:34} {mean:6.1f}   from {low:.1f} to {high:.1f}"
            for answer, mean, low, high in zip(requested.answers, found.means, found.lows, found.highs, strict=True)
        ]
    for pair in deciding.pairs:
        names = " and ".join(question.questions[k].name for k in (pair.first, pair.second))
        lines.append(f"{names} do not merely add: {100 * pair.share:.0f} % of the differences")
    good = [
        i
        for i, row in enumerate(years.figures)
        if i not in years.refused and meets_limits(question, dict(zip(KEYS, row, strict=True)))
    ]
    if good:
        best = min(good, key=lambda i: years["bought_kwh"][i])
        words = ", ".join(names_of(question, levels[best]))
        lines.append(f"Least bought within the limits: {words}, {years['bought_kwh'][best]:.0f} kWh")
    else:
        lines.append("No combination keeps to the limits.")
    return "\n".join(lines)


def diagnosed(options: argparse.Namespace, weather: WeatherYear) -> str:
    """What is wrong by a log: words, or one JSON object. Raises HeatError for what cannot be read or calculated."""
    from heat.monitoring.diagnosis import diagnose
    from heat.monitoring.log_file import read_log
    from heat.monitoring.measured_days import weather_of
    from heat.monitoring.report import as_object, in_words
    from heat.monitoring.verdict import judged

    design = read_design(options.design)
    try:
        heights = tuple(float(part) for part in options.heights.split(","))
    except ValueError as error:
        raise HeatError(f"--heights: “{options.heights}” is not two numbers such as 0.9,0.05.") from error
    try:
        text = contents(options.log).decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise HeatError(f"{options.log}: it is no text in UTF-8.") from error
    log = read_log(text, weather.utc_offset_h, heights)
    ranked = diagnose(log, design.model_dump(mode="json"), weather_of(log, design, weather))
    verdict = judged(ranked)
    return json.dumps(as_object(verdict, ranked, log, design), indent=1) if options.json else in_words(verdict, ranked)


def _parser() -> argparse.ArgumentParser:
    """The commands and their options."""
    parser = argparse.ArgumentParser(prog="ledger")
    commands = parser.add_subparsers(dest="command", required=True)
    one = commands.add_parser("simulate", help="simulate the year of one design")
    one.add_argument("design", type=Path, help="a design document (JSON)")
    one.add_argument("--weather", type=Path, required=True, help="a weather file, or twelve means (JSON)")
    one.add_argument("--columns", type=Path, help="a column map for any other table (JSON)")
    one.add_argument("--out", type=Path, help="write the hours as .csv or .parquet")
    one.add_argument("--json", action="store_true", help="print one JSON object")
    many = commands.add_parser("sweep", help="simulate all combinations of a question's answers")
    many.add_argument("question", type=Path, help="questions and answers, with the design they start from (JSON)")
    many.add_argument("--weather", type=Path, required=True, help="a weather file, or twelve means (JSON)")
    many.add_argument("--columns", type=Path, help="a column map for any other table (JSON)")
    many.add_argument("--out", type=Path, help="write the table as .csv or .parquet")
    many.add_argument("--workers", type=int, default=2, help="processes to share the years")
    wrong = commands.add_parser("diagnose", help="what is wrong with a plant, by its log")
    wrong.add_argument("log", type=Path, help="the readings (CSV; columns as docs/diagnosis.md names them)")
    wrong.add_argument("--design", type=Path, required=True, help="the design as it was built (JSON)")
    wrong.add_argument("--weather", type=Path, required=True, help="a weather file of the place")
    wrong.add_argument("--columns", type=Path, help="a column map for any other weather table (JSON)")
    wrong.add_argument("--heights", default="0.9,0.05", help="heights of store_top_c and store_floor_c (share)")
    wrong.add_argument("--json", action="store_true", help="print one JSON object")
    check = commands.add_parser("validate", help="hold the core against published numbers")
    check.add_argument("--json", action="store_true", help="print the rows as JSON")
    check.add_argument("--write", type=Path, help="write the table as Markdown")
    return parser


def main(arguments: list[str] | None = None) -> int:
    """Run one command; returns the exit status (0 done, 2 refused; no unit)."""
    options = _parser().parse_args(arguments)
    if not cache_folder().exists():
        print("compiling the engine for this machine, once: about half a minute ...", file=sys.stderr)
    try:
        if options.command == "validate":
            from heat.tests.validation import main as validate

            return validate(as_json=options.json, write=options.write)
        weather = read_weather(options.weather, options.columns)
        if options.command == "sweep":
            print(swept(options.question, weather, options.out, options.workers))
            return 0
        if options.command == "diagnose":
            print(diagnosed(options, weather))
            return 0
        year = simulate(read_design(options.design), weather)
        if options.out:
            write_hours(year.book, options.out)
        if options.json:
            print(json.dumps(as_document(year), indent=1))
        else:
            print(report(year.book, weather))
    except HeatError as error:
        print(f"Red Ledger cannot go on: {error}", file=sys.stderr)
        return 2
    return 0


if __name__ == "__main__":
    sys.exit(main())
