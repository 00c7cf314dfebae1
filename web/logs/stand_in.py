"""A stand-in for a data logger: a small plant that runs a log's design, with a fault or without, and posts.

It knows the application as a real logger would: an address and a key. What cannot be posted waits and is posted later.
"""

import json
import random
import time
import urllib.error
import urllib.request
from collections import deque
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from threading import Thread
from typing import Any

import numpy as np

from heat.common.documents import Document
from heat.design import parse
from heat.monitoring.faults import FAULTS, faulty_document, suffers
from heat.monitoring.log import Log
from heat.monitoring.plant import Sensors, read
from heat.simulation.year import simulate
from heat.weather.year import WeatherYear
from web.ui.rows import Row

SENSORS = Sensors(noise_k=0.3, drift_k=0.2, lost=0.02, every_h=1.0 / 12.0)
AT_ONCE, WAIT_S, DAY = 50, 2.0, timedelta(days=1)
Line = Row


def hidden(document: dict[str, object], dice: random.Random) -> dict[str, float]:
    """A fault for training, one the design can suffer, at its usual size."""
    design = parse(document)
    keys = [key for key in FAULTS if suffers(design, key)]
    key = dice.choice(keys)
    return {key: FAULTS[key].size}


def lines_of(
    document: Document,
    weather: WeatherYear,
    sizes: dict[str, float],
    begins: datetime,
    days: int,
    seed: int,
    heights: tuple[float, ...],
) -> list[Line]:
    """Readings of days (local standard time, within one year) as they are posted."""
    first = (begins - datetime(begins.year, 1, 1)).days
    leap = begins.year % 4 == 0 and (begins.year % 100 != 0 or begins.year % 400 == 0) and first > 58
    hour = 24 * (first - leap)
    days = min(days, 365 - hour // 24)
    made = faulty_document(document, sizes, max(hour // 24 - 2, 1)) if sizes else document
    log = read(simulate(parse(made), weather), weather, hour, 24 * days, np.random.default_rng(seed), SENSORS, heights)
    return [_line(log, i, begins + timedelta(hours=float(log.hour[i]) - hour)) for i in range(log.hour.size)]


def _line(log: Log, i: int, at: datetime) -> Line:
    rounded = (at + timedelta(seconds=1)).replace(second=0, microsecond=0)
    line: Line = {"at": rounded.isoformat()}
    line |= {
        name: round(float(row[i]), 2)
        for name, row in log.readings.items()
        if np.isfinite(row[i]) and not (name == "draw" and row[i] == 0.0)
    }
    if log.store_c is not None:
        line["store"] = [round(float(row[i]), 2) for row in log.store_c]
    return line


@dataclass
class Logger:
    """Posts lines in their order; what is not taken waits."""

    address: str
    token: str
    record: Callable[[str], None]
    waiting: deque[Line] = field(default_factory=deque)
    posted: list[Line] = field(default_factory=list)

    def post(self) -> bool:
        """Post what waits; whether all of it was taken."""
        while self.waiting:
            some = [self.waiting[i] for i in range(min(AT_ONCE, len(self.waiting)))]
            request = urllib.request.Request(
                self.address,
                json.dumps({"readings": some}).encode(),
                {"Content-Type": "application/json", "Authorization": f"Bearer {self.token}"},
            )
            try:
                with urllib.request.urlopen(request, timeout=10) as answer:
                    answered = json.loads(answer.read())
            except urllib.error.HTTPError as error:
                if error.code < 500:
                    raise RuntimeError(f"refused: {error.read().decode()[:200]}") from error
                return False
            except OSError:
                return False
            for _ in some:
                self.posted.append(self.waiting.popleft())
            for words in answered["refused"]:
                self.record(f"refused: {words}")
        return True

    def last_day(self) -> str:
        """Its last day as CSV, as a logger's own page gives it."""
        if not self.posted:
            return "at\n"
        end = datetime.fromisoformat(self.posted[-1]["at"])
        lines = [line for line in self.posted if datetime.fromisoformat(line["at"]) > end - DAY]
        names = sorted({name for line in lines for name in line if name not in ("at", "store")})
        stores = max(len(line.get("store", ())) for line in lines)
        head = ["at", *names, *(f"store {i + 1}" for i in range(stores))]
        rows = [
            [line["at"], *(str(line.get(n, "")) for n in names), *(str(v) for v in line.get("store", ()))]
            for line in lines
        ]
        return "\n".join(",".join(row) for row in [head, *rows]) + "\n"


def run(logger: Logger, lines: list[Line], speed: float) -> None:
    """Post lines as fast as their own clock runs times ``speed``; what waits is tried again."""
    began, first = time.monotonic(), datetime.fromisoformat(lines[0]["at"])
    for line in lines:
        due = (datetime.fromisoformat(line["at"]) - first).total_seconds() / speed
        while time.monotonic() - began < due:
            time.sleep(min(0.05, max(due - (time.monotonic() - began), 0.0)))
        logger.waiting.append(line)
        logger.post()
    while not logger.post():
        logger.record(f"{len(logger.waiting)} readings wait: the server does not answer")
        time.sleep(WAIT_S)


def serve_last_day(logger: Logger, port: int) -> ThreadingHTTPServer:
    """Its last day at http://127.0.0.1:port/last-day.csv, until it ends."""

    class Page(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            body = logger.last_day().encode()
            self.send_response(200 if self.path == "/last-day.csv" else 404)
            self.send_header("Content-Type", "text/csv")
            self.send_header("Content-Length", str(len(body)))
            self.end_headers()
            self.wfile.write(body)

        def log_message(self, format: str, *args: Any) -> None:
            """Quiet."""

    server = ThreadingHTTPServer(("127.0.0.1", port), Page)
    Thread(target=server.serve_forever, daemon=True).start()
    return server
