"""The core by random documents, documents with one odd value, and mangled weather files."""

import random
import sys
import warnings
from time import monotonic
from typing import Any

import numpy as np

from heat.constants import HOURS
from heat.design import parse
from heat.design.contradictions import HOTTEST_C
from heat.errors import HeatError, WeatherFileError
from heat.ledger import accounts as acc
from heat.simulation.year import simulate
from heat.studies.figures import figures
from heat.tests.mangled import mangled
from heat.tests.random_designs import random_design
from heat.tests.samples import weather_for
from heat.weather.checks import checked
from heat.weather.readers import read_weather

FILES, DOCUMENTS = 500, 3000
"""How many of each are tried."""


def documents() -> dict[str, float]:
    """Random valid documents of every kind, each by its seed: years calculated, with an hour that is open, failed."""
    found = {
        "documents": 0.0,
        "documents_open": 0.0,
        "documents_not_finite": 0.0,
        "documents_failed": 0.0,
        "documents_too_hot": 0.0,
    }
    slowest = 0.0
    for seed in range(DOCUMENTS):
        start = monotonic()
        try:
            design = random_design(seed)
            weather = weather_for(design)
            book = simulate(design, weather)
            slowest = max(slowest, monotonic() - start)
            found["documents"] += 1
            found["documents_too_hot"] += float(np.nanmax(book.traces[:, acc.COLLECTOR_C])) > HOTTEST_C + 100.0
            if book.hours_closed < HOURS:
                found["documents_open"] += 1
                print(f"document {seed}: {HOURS - book.hours_closed} hours are open", file=sys.stderr)
            numbers = [*figures(book, weather).values(), book.books.sum(), book.traces.sum()]
            found["documents_not_finite"] += not np.isfinite(numbers).all()
        except Exception as error:
            found["documents_failed"] += 1
            print(f"document {seed}: {type(error).__name__}: {error}", file=sys.stderr)
    return found | {"documents_slowest_s": slowest}


SPOILT: tuple[Any, ...] = (
    None,
    "",
    "x",
    "1e400",
    float("nan"),
    float("inf"),
    -1e300,
    1e300,
    10**400,
    -1,
    True,
    [],
    {},
    [[]],
    [None] * 9000,
    "\ud800",
)


def spoilt() -> dict[str, float]:
    """Documents with one value anywhere made odd: refused in words, read and calculated, or (a "
    "fault of ours) neither."""
    found = {"spoilt_refused": 0.0, "spoilt_read": 0.0, "spoilt_failed": 0.0}
    for seed in range(DOCUMENTS):
        dice = random.Random(seed)
        design = random_design(seed)
        whole = design.model_dump(mode="json")
        part: Any = whole
        while True:
            key = dice.choice(list(part) if isinstance(part, dict) else range(len(part)))
            if not isinstance(part[key], dict | list) or not part[key] or dice.random() < 0.1:
                break
            part = part[key]
        part[key] = dice.choice(SPOILT)
        try:
            made = parse(whole)
            if simulate(made, weather_for(made)).hours_closed != HOURS:
                raise ValueError("an hour is open")
            found["spoilt_read"] += 1
        except HeatError:
            found["spoilt_refused"] += 1
        except Exception as error:
            found["spoilt_failed"] += 1
            print(f"spoilt document {seed}: {type(error).__name__}: {str(error)[:200]}", file=sys.stderr)
    return found


def files() -> dict[str, float]:
    """Weather files mangled at random: read, refused in words, or (a fault of ours) neither."""
    counted = {"files_read": 0.0, "files_refused": 0.0, "files_failed": 0.0}
    slowest = 0.0
    warnings.simplefilter("ignore")  # the readers' own comments on what they are given
    for number in range(FILES):
        name, content = mangled(number)
        start = monotonic()
        try:
            checked(read_weather(name, content))
            counted["files_read"] += 1
        except WeatherFileError:
            counted["files_refused"] += 1
        except Exception as error:
            counted["files_failed"] += 1
            print(f"file {number}, {name}: {type(error).__name__}: {error}", file=sys.stderr)
        slowest = max(slowest, monotonic() - start)
    return counted | {"files_slowest_s": slowest}
