"""Measure: the year, weather, plane, the edit over HTTP, memory; beside each its ratio to numpy work."""

import json
import re
import statistics
import subprocess
import sys
from argparse import ArgumentParser
from collections.abc import Callable
from dataclasses import replace
from time import perf_counter
from typing import Any
from urllib.parse import urlencode

import numpy as np
from django.conf import settings
from django.core.management.base import BaseCommand

from heat.design import parse
from heat.design.schemes import SCHEMES
from heat.simulation.year import simulate
from heat.sun.plane import tilted_irradiance
from heat.tests.samples import TMY3, case_design, example, tmy3, weather_for
from heat.weather.checks import checked
from heat.weather.readers import read_weather
from heat.weather.year import sun_year
from web.accounts.models import User
from web.places.models import Town
from web.places.towns import fill
from web.projects.climates import merrow_coast
from web.projects.services.designs import create_project
from web.workspace.management.logs import log_figures
from web.workspace.management.serving import Server
from web.workspace.management.studies import (
    archive_figures,
    crowd_figures,
    money_figures,
    overhead_figures,
    paper_figures,
    study_figures,
)

WORDS = {
    "year_plain_ms": "year of the computed case, 20 layers, 6 min (median of 30)",
    "year_stirred_ms": "the same with each layer stirred",
    "year_50_layers_ms": "the same with 50 layers",
    "year_3_min_ms": "the same with 3-minute steps",
    "year_complex_ms": "year of the slowest of the example systems, one of each kind (median of 7)",
    "first_year_s": "a new process to its first year, code already compiled (best of 3)",
    "sweep_1000_s": "1,000 designs on 100 planes, two threads",
    "sweep_1000_mb": "its peak memory, MB",
    "sweep_500_s": "the same with 500 designs",
    "weather_import_ms": "read and check a TMY3 year",
    "plane_ms": "sun on one tilted plane, 8,760 h",
    "edit_median_ms": "edit over HTTP to the updated page, median of 80",
    "edit_p95_ms": "the same, 95th percentile",
    "drag_sky_ms": "a skyline point dragged to the server's figures, median of 40",
    "drag_bar_ms": "a bar of the day dragged, the same",
    "upload_preview_s": "a year uploaded to its preview, median of 5",
    "page_ms": "first page of the open book, median of 10",
    "drag_height_ms": "a sensor dragged up the store, median of 40",
    "edit_complex_p95_ms": "edit over HTTP of rooms, two stores and a boiler, 95th percentile of 40",
    "cold_page_ms": "first page with styles, scripts and fonts, one after the other on new connections, median of 5",
    "next_steps_ms": "what some 30 steps would buy, as many full years, median of 5",
    "doubt_200_s": "200 years under uncertainty, from the press to the bands on the page",
    "choices_1000_s": "1,000 combinations, from the press to what decides on the page",
    "map_coarse_s": "the coarse map of 35 years, from the press to the page",
    "map_247_s": "the whole map of 247 years, from the press to the page",
    "job_overhead_pct": "400 years by the worker, longer than the bare years on as many threads, %",
    "workers_2_x": "years by two workers of one thread, times those by one",
    "chunk_ms": "a chunk of 20 years by one of them",
    "claim_ms": "claiming, reading and ending a job of the queue, without years",
    "weighed_page_ms": "that page again, median of 5",
    "money_ms": "a rate, a price of the book, a line of the list changed to the updated page, median of 24",
    "cautions_ms": "an edit to the updated page with the cautions open, median of 9",
    "import_5_s": "a project with five years of weather brought back from its file",
    "report_s": "a draft of every section as PDF, 12 pages, median of 3",
    "log_page_ms": "the day of a log with 2,000 readings, median of 5",
    "day_beside_ms": "three days beside the design, from every way the store may have opened, median of 9",
    "diagnosis_s": "every fault, its sizes and likely pairs on three days, median of 3",
    "fit_4_s": "four values fitted to a week",
    "readings": "readings in that log",
    "readings_s": "readings a second, posted one by one by two loggers",
    "readings_lost": "of them not found afterwards",
    "boost_ms": "table of boosts and fuels after an edit that moves its four years, median of 5",
    "town_ms": "towns offered for what is typed, slowest of some 60 keystrokes",
    "anywhere_s": "a project of a town, from the press to its fraction on the page, median of 7",
    "begin_ms": "guided beginning: schemes that fit with sizes and rules of thumb, median of 5",
    "parts_ms": "the longest list of a part's alternatives, 12 full years, median of 5",
    "carpet_ms": "another quantity of the year's hours, the whole page, median of 12",
    "mistake_ms": "a fault ticked on the bench, median of 6",
    "swaps_ms": "what each of 13 other kinds would bring, as many full years, median of 5",
    "serving_mb": "memory of the largest serving process, MB",
    "serving_after_uploads_mb": "the same after drags and five uploads, MB",
    "numpy_ms": "the fixed numpy work the ratios refer to",
}
AIMS = {
    "year_plain_ms": 10,
    "year_complex_ms": 40,
    "first_year_s": 1.5,
    "sweep_1000_s": 10,
    "sweep_1000_mb": 600,
    "edit_median_ms": 120,
    "edit_p95_ms": 200,
    "serving_mb": 350,
    "drag_sky_ms": 150,
    "drag_bar_ms": 150,
    "upload_preview_s": 1.5,
    "swaps_ms": 700,
    "drag_height_ms": 150,
    "edit_complex_p95_ms": 250,
    "cold_page_ms": 600,
    "parts_ms": 700,
    "next_steps_ms": 500,
    "doubt_200_s": 3,
    "choices_1000_s": 12,
    "map_coarse_s": 0.5,
    "map_247_s": 4,
    "job_overhead_pct": 10,
    "workers_2_x": 1.8,
    "weighed_page_ms": 300,
    "money_ms": 120,
    "boost_ms": 700,
    "cautions_ms": 120,
    "report_s": 3,
    "import_5_s": 3,
    "log_page_ms": 300,
    "day_beside_ms": 150,
    "diagnosis_s": 3,
    "fit_4_s": 10,
    "town_ms": 80,
    "anywhere_s": 1.0,
    "carpet_ms": 150,
    "mistake_ms": 250,
}


def median_ms(work: Callable[[], Any], times: int) -> float:
    """Median milliseconds of a piece of work, after one warm run."""
    work()
    taken = []
    for _ in range(times):
        start = perf_counter()
        work()
        taken.append(1000 * (perf_counter() - start))
    return statistics.median(taken)


def numpy_work() -> None:
    """A fixed load of numpy, to compare machines by."""
    x = np.linspace(0.0, 1.0, 400_000)
    np.sort(np.exp(np.sin(50 * x)))


def kinds_ms() -> dict[str, float]:
    """Median milliseconds of a year of each example, by kind."""
    return {
        kind: median_ms(lambda d=design: simulate(d, weather_for(d)), 7)  # type: ignore[misc]
        for kind in SCHEMES
        for design in [parse(example(kind))]
    }


def first_year_s() -> float:
    """Best of three processes that read a design and a weather file, run the year and print it (s)."""
    examples = settings.ROOT / "docs" / "examples"
    command = [
        sys.executable,
        "-m",
        "heat.cli",
        "simulate",
        str(examples / "pumped_coil.json"),
        "--weather",
        str(examples / "weather" / "merrow_coast.json"),
    ]
    taken = []
    for _ in range(3):
        start = perf_counter()
        subprocess.run(command, cwd=settings.ROOT, check=True, stdout=subprocess.DEVNULL)
        taken.append(perf_counter() - start)
    return min(taken)


def sweep_figures() -> dict[str, float]:
    """Seconds and peak memory of sweeps in processes of their own."""
    figures = {}
    for volumes in (5, 10):
        command = [sys.executable, "-m", "heat.tests.sweep_1000", str(volumes)]
        done = subprocess.run(command, cwd=settings.ROOT, check=True, capture_output=True, text=True)
        found = json.loads(done.stdout)
        figures[f"sweep_{found['designs']}_s"] = found["seconds"]
        figures[f"sweep_{found['designs']}_mb"] = found["peak_mb"]
    figures.pop("sweep_500_mb")
    return figures


def drag_figures(server: Server, base: str) -> dict[str, float]:
    """A skyline point and a bar of the day dragged, 40 positions each; a year uploaded until its preview stands
    there."""
    edges = [f"90 8, 130 {5 + 0.5 * i}, 200 12, 250 20" for i in range(40)]
    shapes = [" ".join(["2"] * 12 + [str(i / 4)] + ["3"] * 11) for i in range(40)]
    heights = [str(i / 50) for i in range(40)]
    found = {}
    for name, path, screen, view, values in (
        ("drag_height_ms", "system.control.sensor_share", "scheme", "", heights),
        ("drag_sky_ms", "site.skyline", "site", "horizon", edges),
        ("drag_bar_ms", "demand.hour_shape", "demand", "uses", shapes),
    ):
        taken = []
        for value in values:
            form = {"path": path, "value": value, "screen": screen, "preview": "1"}
            status, _, ms = server.request("POST", base + "edit", form, view)
            if status != 200:
                raise RuntimeError(f"A preview of {path} answered {status}.")
            taken.append(ms)
        found[name] = statistics.median(taken)
    taken = []
    for _ in range(5):
        start = perf_counter()
        status, text, _ = server.request("POST", base + "weather", {}, file=TMY3)
        state = server.location.partition("look=")[2]
        if status != 302 or not state:
            raise RuntimeError(f"The upload answered {status}: {text[:200]}")
        server.request("GET", f"{base}site?view=weather&look={state}")
        taken.append(perf_counter() - start)
    return found | {"upload_preview_s": statistics.median(taken)}


def cold_page_ms(server: Server, page: str) -> float:
    """The page and everything it names, each on a connection of its own (ms)."""
    status, text, taken = server.request("GET", page)
    names = set(re.findall(r'(?:src|href)="(/static/[^"]+)"', text))
    for name in [*names]:
        _, current, ms = server.request("GET", name)
        taken += ms
        for font in re.findall(r'url\("?([^")]+\.woff2)"?\)', current):
            taken += server.request("GET", font if font.startswith("/") else f"/static/ui/{font}")[2]
    if status != 200 or not names:
        raise RuntimeError(f"The page answered {status} and names {len(names)} files.")
    return taken


def complex_edits_ms(server: Server, base: str) -> list[float]:
    """Forty edits of the most complex design: rooms, two stores, a boiler, an element, a dump (ms)."""
    for preset in ("kind combi", "switch second store", "switch boiler", "switch element", "switch dump"):
        status, _text, _ = server.request("POST", base + "choose", {"preset": preset, "screen": "scheme"})
        if status != 200:
            raise RuntimeError(f"{preset} answered {status}.")
    form = {"path": "system.store.volume_l", "screen": "scheme"}
    return [server.request("POST", base + "edit", form | {"value": 700 + 5 * i})[2] for i in range(44)][4:]


def town_figures(server: Server) -> dict[str, float]:
    """A town typed letter by letter, the slowest keystroke (ms); a project of such a town until its fraction stands on
    its page (s)."""
    fill()
    towns = list(Town.objects.order_by("-people")[40:400:40])
    server.request("GET", "/towns?q=zz")
    keystrokes = [
        server.request("GET", "/towns?" + urlencode({"q": town.name[:i]}))[2]
        for town in towns
        for i in range(2, min(len(town.name), 10) + 1)
    ]
    taken = []
    for town in [t for t in towns if abs(t.latitude) < 66][:7]:
        start = perf_counter()
        form = {"name": "", "place": str(town), "town": str(town.pk)}
        status, text, _ = server.request("POST", "/projects/new", form)
        if status != 302:
            raise RuntimeError(f"A project of a town answered {status}.")
        _, text, _ = server.request("GET", server.location.replace("demand", "scheme"))
        taken.append(perf_counter() - start)
        if ", rough" not in text:
            raise RuntimeError("The fraction of a rough climate bears no band.")
    return {"town_ms": max(keystrokes), "anywhere_s": statistics.median(taken)}


def plain_edits_ms(server: Server, base: str) -> list[float]:
    """Ninety edits of four values in turn (ms)."""
    taken = []
    for i in range(90):
        path, value = (
            ("system.store.volume_l", 200 + i),
            ("system.collector.area_m2", 2 + 0.01 * i),
            ("plane.tilt_deg", 20 + 0.5 * i),
            ("demand.people", 2 + 0.05 * i),
        )[i % 4]
        status, text, ms = server.request("POST", base + "edit", {"path": path, "value": value, "screen": "scheme"})
        if status != 200 or "Account of the year" not in text:
            raise RuntimeError(f"Edit {i} answered {status}.")
        taken.append(ms)
    return taken


def http_figures() -> dict[str, float]:
    """Edit 80 different values one after the other, as one designer would."""
    User.objects.filter(username="bench").delete()
    user = User.objects.create_user("bench", password="bench-harbour-7")
    project = create_project(owner=user, name="bench", place="", weather=merrow_coast())
    base = f"/projects/{project.pk}/A/"
    try:
        with Server() as server:
            server.request("GET", "/sign-in")
            server.request("POST", "/sign-in", {"username": "bench", "password": "bench-harbour-7"})
            pages = [server.request("GET", base + "scheme")[2] for _ in range(12)][2:]
            taken = plain_edits_ms(server, base)
            serving = server.memory_mb()
            swaps = [server.request("GET", base + "steps?part=kind")[2] for _ in range(6)][1:]
            parts = [server.request("GET", base + "steps?part=collector&instead=1")[2] for _ in range(6)][1:]
            begin = [server.request("GET", base + "scheme?view=start")[2] for _ in range(6)][1:]
            server.request("GET", base + "year?view=faults")
            ticked = [
                server.request("GET", f"{base}year?view=faults&m={m}")[2]
                for m in ("valve", "dirt", "air", "high", "tree", "feels")
            ]
            woven = [
                server.request("GET", f"{base}year?q={q}")[2]
                for q in ("top", "sun", "bought", "pump", "air", "flow") * 2
            ]
            cold = [cold_page_ms(server, base + "scheme") for _ in range(5)]
            dragged = drag_figures(server, base)
            after = server.memory_mb()
            outcomes = study_figures(server, base)
            paid = money_figures(server, base)
            paper = paper_figures(server, base)
            hard = complex_edits_ms(server, base)
            logged = log_figures(server, project, f"http://127.0.0.1:{server.port}")
            overhead = overhead_figures(project) | archive_figures(project) | logged
            return {
                **dragged,
                **town_figures(server),
                **outcomes,
                **paid,
                **paper,
                **overhead,
                "carpet_ms": statistics.median(woven),
                "mistake_ms": statistics.median(ticked),
                "parts_ms": statistics.median(parts),
                "begin_ms": statistics.median(begin),
                "cold_page_ms": statistics.median(cold),
                "edit_complex_p95_ms": float(np.percentile(hard, 95)),
                "edit_median_ms": statistics.median(taken[10:]),
                "edit_p95_ms": float(np.percentile(taken[10:], 95)),
                "page_ms": statistics.median(pages),
                "swaps_ms": statistics.median(swaps),
                "serving_mb": serving,
                "serving_after_uploads_mb": after,
            }
    finally:
        user.delete()


class Command(BaseCommand):
    help = "Measure speed and memory."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("--json", action="store_true", help="print one JSON object only")

    def handle(self, *args: Any, **options: Any) -> None:
        design, weather = case_design(), tmy3()
        sun = sun_year(weather)
        finer = design.model_copy(update={"numerics": design.numerics.model_copy(update={"layers": 50})})
        shorter = design.model_copy(update={"numerics": design.numerics.model_copy(update={"step_minutes": 3})})
        kinds = kinds_ms()
        figures = {
            "numpy_ms": median_ms(numpy_work, 15),
            "year_plain_ms": median_ms(lambda: simulate(design, weather), 30),
            "year_stirred_ms": median_ms(lambda: simulate(case_design(inflow="stirred"), weather), 10),
            "year_50_layers_ms": median_ms(lambda: simulate(finer, weather), 10),
            "year_3_min_ms": median_ms(lambda: simulate(shorter, weather), 10),
            "year_complex_ms": max(kinds.values()),
            "first_year_s": first_year_s(),
            **sweep_figures(),
            "weather_import_ms": median_ms(lambda: checked(read_weather(TMY3.name, TMY3.read_bytes())), 7),
            "plane_ms": median_ms(lambda: tilted_irradiance(replace(weather), sun, tilt_deg=40, azimuth_deg=180), 30),
            **http_figures(),
            **crowd_figures(),
        }
        figures = {k: round(v, 3) for k, v in figures.items()}
        ratios = {f"{k}_ratio": round(v / figures["numpy_ms"], 3) for k, v in figures.items() if k.endswith("_ms")}
        figures |= {f"year_{kind}_ms": round(ms, 3) for kind, ms in kinds.items()}
        target = settings.STATE / "bench.json"
        text = json.dumps(figures | ratios, indent=2)
        target.write_text(text + "\n")
        if options["json"]:
            self.stdout.write(text)
            return
        for name, words in WORDS.items():
            ratio = f"{ratios[f'{name}_ratio']:8.2f} x" if name.endswith("_ms") else " " * 10
            aim = f"aim {AIMS[name]}" if name in AIMS else ""
            self.stdout.write(f"{name:20} {figures[name]:10.2f} {ratio}  {aim:8}  {words}")
        self.stdout.write("years by kind, ms: " + "  ".join(f"{k} {v:.1f}" for k, v in kinds.items()))
        self.stdout.write(f"written to {target}")
