"""Bench figures of the log: a page of 2,000 readings, days beside the design, every fault held against them."""

import statistics
from collections import deque
from datetime import datetime, timedelta
from threading import Thread
from time import perf_counter
from typing import Any

from django.utils import timezone

from heat.design import parse
from heat.monitoring.diagnosis import diagnose
from heat.monitoring.fit import fit
from heat.monitoring.measured_days import days_of, weather_of
from web.logs.models import Log, local_of, moment_of
from web.logs.reading import built, rows_of, window_of
from web.logs.services import IncomingReading, add_readings, begin_log, new_token
from web.logs.stand_in import Logger, lines_of
from web.projects.models import Project
from web.ui.rows import Row

DAYS, A_SECOND, SECONDS = 7, 50, 20
"""Days of readings every five minutes, and posts of a logger: so many readings a second for so many seconds."""


def log_figures(server: Any, project: Project, address: str) -> dict[str, float]:
    """Pages and calculation of a log of 2,000 readings (ms, s), and readings posted one by one (per second)."""
    design = project.designs.get(letter="A")
    design.project = project
    log = begin_log(design=design, author=project.owner, heights=[0.0, 0.85])
    _design, weather = built(log)
    now = local_of(timezone.now(), log.offset_h)
    first = max(datetime(now.year, now.month, now.day) - timedelta(days=DAYS), datetime(now.year, 1, 1))
    lines = lines_of(log.document, weather, {"valve": 1.0}, first, DAYS, 3, tuple(log.heights))
    add_readings(log=log, author=project.owner, readings=[_describe(log, line) for line in lines], source="table")
    base = f"/projects/{project.pk}/A/log?log={log.pk}"
    pages = [server.request("GET", f"{base}&days={DAYS}")[2] for _ in range(6)][1:]
    found = {"readings": float(log.readings.count()), "log_page_ms": statistics.median(pages)}
    last, whole = window_of(log, days="3"), window_of(log, days=str(DAYS))
    assert last is not None
    assert whole is not None
    rows = rows_of(log, last)
    assert rows is not None
    design_ = parse(log.document)
    made = weather_of(rows, design_, weather)
    found["day_beside_ms"] = 1000.0 * _median(lambda: days_of(rows, design_, made), 9)
    found["diagnosis_s"] = _median(lambda: diagnose(rows, log.document, made), 3)
    week = rows_of(log, whole)
    assert week is not None
    wide = weather_of(week, design_, weather)
    found["fit_4_s"] = _median(lambda: fit(week, log.document, wide, ("eta0", "a1", "ua", "flow")), 1)
    return found | _posted(log, lines, address)


def _describe(log: Log, line: Row) -> IncomingReading:
    values = {name: value for name, value in line.items() if name not in ("at", "store")}
    values |= {f"s{i}": value for i, value in enumerate(line["store"])}
    return IncomingReading(moment_of(datetime.fromisoformat(line["at"]), log.offset_h), values)


def _posted(log: Log, lines: list[dict[str, object]], address: str) -> dict[str, float]:
    """Readings posted singly by two loggers for a while, and how many were lost."""
    fresh = begin_log(design=_designed(log), author=log.project.owner, heights=[0.0, 0.85])
    token, wanted = new_token(log=fresh, author=log.project.owner), lines[: A_SECOND * SECONDS]

    def post(part: list[Row]) -> None:
        logger = Logger(f"{address}/log/{fresh.pk}/readings", token, print)
        for line in part:
            logger.waiting = deque([line])
            logger.post()

    start = perf_counter()
    threads = [Thread(target=post, args=(wanted[k::2],)) for k in range(2)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    taken = perf_counter() - start
    return {"readings_s": len(wanted) / taken, "readings_lost": float(len(wanted) - fresh.readings.count())}


def _designed(log: Log) -> Any:
    design = log.project.designs.get(letter=log.letter)
    design.project = log.project
    return design


def _median(work: Any, times: int) -> float:
    work()
    taken = []
    for _ in range(times):
        start = perf_counter()
        work()
        taken.append(perf_counter() - start)
    return statistics.median(taken)
