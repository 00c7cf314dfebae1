"""A stand-in for a data logger beside a running application: ./ledger logger [--fault NAME|secret] [--speed 600]."""

import random
from datetime import datetime, timedelta
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.utils import timezone

from heat.design import parse
from heat.monitoring.faults import FAULTS, suffers
from web.logs.models import Log, local_of
from web.logs.reading import built
from web.logs.services import begin_log, new_token
from web.logs.stand_in import Logger, hidden, lines_of, run, serve_last_day
from web.projects.models import Project


class Command(BaseCommand):
    help = "Run a small plant that posts its readings, as a data logger would."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument(
            "--log", type=int, help="number of the log; a new one of the demo's terrace where none is given"
        )
        parser.add_argument("--fault", default="", help=f"one of {', '.join(FAULTS)}, or secret")
        parser.add_argument("--speed", type=float, default=600.0, help="how many times faster than life")
        parser.add_argument("--days", type=int, default=3, help="days that are run, ending now")
        parser.add_argument("--server", default="", help="address of the application")
        parser.add_argument(
            "--csv-port", type=int, default=0, help="serve the last day as CSV at this port of loopback"
        )
        parser.add_argument("--seed", type=int, default=None)

    def handle(self, *args: Any, **options: Any) -> None:
        log = self.log(options["log"])
        dice = random.Random(options["seed"])
        sizes = self.fault(log, options["fault"], dice)
        Log.objects.filter(pk=log.pk).update(
            secret=sizes if options["fault"] == "secret" else None, tries=0, named=None
        )
        token = new_token(log=log, author=log.project.owner)
        _design, weather = built(log)
        now = local_of(timezone.now(), log.offset_h)
        begins = max(datetime(now.year, now.month, now.day) - timedelta(days=options["days"]), datetime(now.year, 1, 1))
        lines = lines_of(
            log.document, weather, sizes, begins, options["days"], dice.randrange(10**6), tuple(log.heights)
        )
        server = options["server"] or "http://127.0.0.1:8000"
        logger = Logger(f"{server}/log/{log.pk}/readings", token, self.stdout.write)
        if options["csv_port"]:
            serve_last_day(logger, options["csv_port"])
        where = f"{server}/projects/{log.project_id}/{log.letter}/log?log={log.pk}"
        text = "a fault is hidden" if options["fault"] == "secret" else options["fault"] or "sound"
        self.stdout.write(f"{len(lines)} readings of {options['days']} days, {text}; follow them at {where}")
        try:
            run(logger, lines, options["speed"])
        except RuntimeError as error:
            raise CommandError(str(error)) from error
        self.stdout.write(f"{len(logger.posted)} readings posted.")

    def log(self, pk: int | None) -> Log:
        """The log named, or a new one of the demo's terrace."""
        if pk is not None:
            found = Log.objects.select_related("project__owner", "weather").filter(pk=pk).first()
            if found is None:
                raise CommandError(f"There is no log {pk}.")
            return found
        project = Project.objects.filter(name__startswith="Gannet Terrace", deleted=None).first()
        if project is None:
            raise CommandError("Name a log, or load the demo first.")
        design = project.designs.get(letter="A")
        design.project = project
        return begin_log(design=design, author=project.owner, heights=[0.0, 0.85])

    def fault(self, log: Log, fault: str, dice: random.Random) -> dict[str, float]:
        """The fault asked for, at its usual size."""
        if not fault:
            return {}
        if fault == "secret":
            return hidden(log.document, dice)
        if fault not in FAULTS or not suffers(parse(log.document), fault):
            raise CommandError(f"This design cannot suffer “{fault}”.")
        return {fault: FAULTS[fault].size}
