"""How often the truth is found on the plant: python -m heat.tests.plant.benchmark COUNT [FIRST] [--write FILE].

Cases 0 to 199 were for setting, 200 to 399 are only run at the end.
"""

import argparse
from collections import Counter, defaultdict
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from time import perf_counter

from heat.design import parse
from heat.monitoring.diagnosis import diagnose
from heat.monitoring.measured_days import weather_of
from heat.monitoring.verdict import judged
from heat.tests.plant.cases import made_case
from heat.tests.samples import climate

MARK = "<!-- benchmark -->"


@dataclass(frozen=True)
class Tried:
    """A case and the answer to it: its kind, the truth, the verdict, whether the truth is among what is named, the
    first cause's share (1) and whether it is the truth, and how long it took (s)."""

    kind: str
    truth: tuple[str, ...]
    verdict: str
    named: bool
    share: float
    first: bool
    seconds: float


def tried(number: int) -> Tried:
    """One case."""
    weather = climate("merrow_coast")
    document, sizes, log = made_case(number, weather)
    begin = perf_counter()
    ranked = diagnose(log, document, weather_of(log, parse(document), weather), threads=1)
    verdict = judged(ranked)
    truth = tuple(sizes)
    named = any(cause.keys == truth for cause in verdict.named)
    return Tried(
        document["system"]["kind"],
        truth,
        verdict.kind,
        named,
        ranked[0].share,
        ranked[0].keys == truth,
        perf_counter() - begin,
    )


def table(cases: list[Tried]) -> str:
    """The figures as Markdown."""
    sound = [one for one in cases if not one.truth]
    alarms = sum(one.verdict == "likely" for one in sound)
    sure = [one for one in cases if one.share >= 0.9]
    head = (
        f"{len(cases)} logs, {len(sound)} of sound plants. Named: {sum(one.named for one in cases)} of {len(cases)}. "
        f"Sound plants with a fault as likely: {alarms} of {len(sound)}. Of shares of 90 % and more "
        f"{sum(one.first for one in sure)} of {len(sure)} are right."
    )
    lines = [
        head,
        "",
        "| truth | logs | named | likely or sound | one of | unclear | nothing fits |",
        "| --- | --- | --- | --- | --- | --- | --- |",
    ]
    by_truth: dict[str, list[Tried]] = defaultdict(list)
    for one in cases:
        by_truth[one.truth[0] if one.truth else "sound"].append(one)
    for truth, row in sorted(by_truth.items(), key=lambda item: (item[0] != "sound", item[0])):
        kinds = Counter(one.verdict for one in row)
        answered = kinds["likely"] + kinds["sound"]
        lines.append(
            f"| {truth} | {len(row)} | {sum(one.named for one in row)} | {answered} | {kinds['one_of']} | "
            f"{kinds['unclear']} | {kinds['nothing_fits']} |"
        )
    lines += ["", "| kind | logs | named |", "| --- | --- | --- |"]
    by_kind: dict[str, list[Tried]] = defaultdict(list)
    for one in cases:
        by_kind[one.kind].append(one)
    lines += [f"| {kind} | {len(row)} | {sum(one.named for one in row)} |" for kind, row in sorted(by_kind.items())]
    lines += ["", "| share printed, % | logs | right, % |", "| --- | --- | --- |"]
    for low, high in ((0.0, 0.5), (0.5, 0.7), (0.7, 0.8), (0.8, 0.9), (0.9, 1.01)):
        row = [one for one in cases if low <= one.share < high]
        right = f"{100 * sum(one.first for one in row) / len(row):.0f}" if row else "–"
        lines.append(f"| {100 * low:.0f} to {min(100 * high, 100):.0f} | {len(row)} | {right} |")
    return "\n".join(lines)


def main() -> None:
    """Run cases on two processes and print, or write, the table."""
    parser = argparse.ArgumentParser()
    parser.add_argument("count", type=int)
    parser.add_argument("first", type=int, nargs="?", default=0)
    parser.add_argument("--write", type=Path)
    options = parser.parse_args()
    with ProcessPoolExecutor(2) as pool:
        cases = list(pool.map(tried, range(options.first, options.first + options.count), chunksize=2))
    made = table(cases)
    print(made)
    print(f"median {sorted(one.seconds for one in cases)[len(cases) // 2]:.1f} s")
    if options.write:
        before, _mark, _after = options.write.read_text().partition(MARK)
        options.write.write_text(f"{before}{MARK}\n\n{made}\n")


if __name__ == "__main__":
    main()
