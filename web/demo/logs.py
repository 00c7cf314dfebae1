"""What the demo has logged: Gannet Terrace commissioned, a fortnight of readings, a fault found and mended, upkeep."""

from datetime import datetime, timedelta

import numpy as np
from django.utils import timezone

from heat.design import parse
from heat.monitoring.faults import faulty_document
from heat.monitoring.plant import Sensors, read
from heat.simulation.year import simulate
from web.logs.models import Log, Reading, local_of, moment_of
from web.logs.reading import built
from web.logs.services import IncomingReading, add_photo, add_readings, begin_log, set_meter
from web.logs.upkeep import note_due, record_done
from web.projects.models import Project

DAYS, SICK_DAYS, SEED = 14, 9, 7
COMMISSIONED = timedelta(days=430)
DONE = (
    ("leaks", 410, "handed over tight"),
    ("leaks", 200, ""),
    ("frost", 395, "first ice at -24 °C"),
    ("pump", 238, "collector sensor 0.4 K high, left"),
    ("glass", 238, ""),
)
"""What was done, so many days ago, and what was said of it."""
SENSORS = Sensors(noise_k=0.3, every_h=0.5)


def log_terrace(project: Project) -> None:
    """Its log; what was logged before is left alone."""
    if project.logs.exists():
        return
    design = project.designs.get(letter="A")
    design.project = project
    log = begin_log(design=design, author=project.owner, heights=[0.0, 0.85])
    Log.objects.filter(pk=log.pk).update(began=timezone.now() - COMMISSIONED)
    today = local_of(timezone.now(), log.offset_h).replace(hour=0, minute=0, second=0, microsecond=0)
    begins = max(today - timedelta(days=DAYS), datetime(today.year, 1, 1))
    _fortnight(log, begins, min(DAYS, (today - begins).days))
    mended = begins + timedelta(days=SICK_DAYS, hours=11)
    photo = add_photo(
        log=log,
        author=project.owner,
        picture=None,
        remark="Check valve stuck open with grit: cleaned and put back. First night quiet.",
    )
    photo.at = moment_of(mended, log.offset_h)
    photo.save(update_fields=["at"])
    for key, ago, remark in DONE:
        record_done(
            project=project,
            author=project.owner,
            key=key,
            on=timezone.localdate() - timedelta(days=ago),
            name="A. Holm",
            remark=remark,
        )
    _meters(log)
    note_due(project)


def _fortnight(log: Log, begins: datetime, days: int) -> None:
    """Nine days without a working check valve, then mended."""
    _design, weather = built(log)
    hour = 24 * min((begins - datetime(begins.year, 1, 1)).days, 364 - days)
    rng, sick = np.random.default_rng(SEED), min(SICK_DAYS, days)
    broken = faulty_document(log.document, {"valve": 1.0}, max(hour // 24 - 2, 1))
    readings: list[IncomingReading] = []
    for document, first, count in ((broken, 0, sick), (log.document, sick, days - sick)):
        if count < 1:
            continue
        rows = read(
            simulate(parse(document), weather), weather, hour + 24 * first, 24 * count, rng, SENSORS, (0.0, 0.85)
        )
        for i, at_hour in enumerate(rows.hour):
            local = begins + timedelta(hours=round(2 * (float(at_hour) - hour)) / 2)
            values = {
                name: round(float(row[i]), 2)
                for name, row in rows.readings.items()
                if np.isfinite(row[i]) and not (name == "draw" and row[i] == 0.0)
            }
            values |= {
                f"s{k}": round(float(row[i]), 2) for k, row in enumerate([] if rows.store_c is None else rows.store_c)
            }
            readings.append(IncomingReading(moment_of(local, log.offset_h), values))
    add_readings(log=log, author=log.project.owner, readings=readings, source="table")
    at = readings[-1].at if readings else timezone.now()
    Reading.objects.filter(log=log, at=at).update(remark="read by hand before leaving")


def _meters(log: Log) -> None:
    """Five months of meters, a little below what was promised."""
    now = timezone.localdate()
    for back, solar, fuel in ((6, 204.0, 4.0), (5, 196.0, 3.0), (4, 189.0, 6.0), (3, 168.0, 14.0), (2, 126.0, 48.0)):
        month = (now.replace(day=1) - timedelta(days=30 * back)).replace(day=1)
        set_meter(log=log, author=log.project.owner, month=month, values={"solar_kwh": solar, "fuel_kwh": fuel})
