"""Runs: asked once, calculated chunk by chunk, each counted once, stopped, and finished by whoever is there."""

import os
import signal
import socket
import subprocess
import sys
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from pathlib import Path
from unittest.mock import patch

import numpy as np
from django.conf import settings
from django.db import connection, connections
from django.test import TransactionTestCase
from procrastinate.contrib.django.models import ProcrastinateJob

from heat.design.changing import varied
from heat.studies.outcome import evaluate_design
from heat.studies.uncertainty import USUAL, draws, perturbed, perturbed_year
from web.accounts.models import User
from web.jobs import services
from web.jobs.models import Chunk, Run
from web.jobs.purposes import uncertainties_of
from web.jobs.services import answer, fits, progress, request_run, simulate_chunk, stop_run
from web.jobs.tasks import left_behind
from web.projects.climates import merrow_coast
from web.projects.models import Design
from web.projects.services.designs import create_project
from web.projects.services.edits import change_values
from web.projects.tests.helpers import DeskCase
from web.simulations.weather import weather_year

SPREADS = {uncertainty.key: uncertainty.spread for uncertainty in USUAL}


def require(design, user, size, seed=1):
    return request_run(
        design=design, author=user, purpose="doubt", question={"spreads": SPREADS, "seed": seed}, size=size
    )


class Runs(DeskCase):
    def run_of(self, size=70, seed=1):
        return require(self.fresh(), self.user, size, seed)

    def test_the_same_question_is_the_same_run_and_another_design_another(self):
        run = self.run_of()
        self.assertEqual((self.run_of(), Run.objects.count()), (run, 1))
        self.assertEqual(ProcrastinateJob.objects.count(), 4)
        self.assertNotEqual(self.run_of(seed=2), run)
        change_values(design=self.fresh(), author=self.user, changes={"demand.people": 5})
        self.assertFalse(fits(run, self.fresh()))
        self.assertNotEqual(self.run_of(), run)

    def test_few_years_are_answered_at_once_and_are_those_of_single_years(self):
        run = self.run_of(size=6)
        self.assertEqual(ProcrastinateJob.objects.count(), 0)
        found = answer(run)
        self.assertEqual(found.figures.shape[0], 6)
        self.assertTrue(np.isfinite(found["fraction"]).all())
        uncertain, weather = uncertainties_of(run.question), weather_year(self.project.weather)
        third = draws(uncertain, 6)[2]
        document = perturbed(run.document, uncertain, third, varied)
        single, _why = evaluate_design(document, perturbed_year(weather, uncertain, third))
        np.testing.assert_allclose(found.figures[2], single)
        self.assertTrue(progress(run).finished)

    def test_each_chunk_counts_once_however_often_it_is_begun(self):
        run = self.run_of(size=70)
        self.assertTrue(simulate_chunk(run.pk, 1))
        stored = bytes(Chunk.objects.get(run=run, index=1).figures)
        self.assertFalse(simulate_chunk(run.pk, 1))
        self.assertEqual(bytes(Chunk.objects.get(run=run, index=1).figures), stored)
        self.assertEqual((progress(run).done, progress(run).finished), (20, False))
        self.assertTrue(np.isnan(answer(run)["fraction"][:20]).all())
        self.assertTrue(np.isfinite(answer(run)["fraction"][20:40]).all())
        self.assertFalse(simulate_chunk(run.pk, 99))

    def test_a_stopped_run_keeps_what_it_has_and_is_requested_anew(self):
        run = self.run_of(size=70)
        simulate_chunk(run.pk, 0)
        stop_run(run=run, author=self.user)
        run.refresh_from_db()
        self.assertFalse(simulate_chunk(run.pk, 1))
        self.assertEqual((progress(run).done, progress(run).stopped), (20, True))
        self.assertNotEqual(self.run_of(size=70).pk, run.pk)

    def test_a_run_belongs_to_the_weather_it_was_requested_of(self):
        run = self.run_of(size=70)
        self.client.post(self.url("weather/use"), {"climate": "tarn_sound"})
        simulate_chunk(run.pk, 0)
        self.assertFalse(fits(run, self.fresh()))
        again = require(self.fresh(), self.user, 70)
        self.assertNotEqual(again.weather_id, run.weather_id)

    def test_only_so_many_runs_are_stored(self):
        with patch.object(services, "RUNS_STORED", 2), patch.object(services, "AT_ONCE", 0):
            for seed in range(4):
                self.run_of(size=20, seed=seed)
        self.assertEqual(Run.objects.count(), 2)


class Proxy:
    """A stand-in for the way to the database: it can be cut, and stays cut until it is mended."""

    def __init__(self, port):
        self.to, self.open, self.sockets = port, True, set()
        self.listening = socket.create_server(("127.0.0.1", 0))
        self.port = self.listening.getsockname()[1]
        threading.Thread(target=self._serve, daemon=True).start()

    def _serve(self):
        while True:
            try:
                near, _from = self.listening.accept()
            except OSError:
                return
            if not self.open:
                near.close()
                continue
            far = socket.create_connection(("127.0.0.1", self.to))
            self.sockets |= {near, far}
            for one, other in ((near, far), (far, near)):
                threading.Thread(target=self._carry, args=(one, other), daemon=True).start()

    def _carry(self, one, other):
        with suppress(OSError):
            while part := one.recv(65536):
                other.sendall(part)
        for end in (one, other):
            with suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)

    def cut(self):
        self.open = False
        for end in self.sockets:
            with suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)
        self.sockets = set()

    def close(self):
        self.cut()
        self.listening.close()


class Workers(TransactionTestCase):
    """Workers of their own on the test's database."""

    def setUp(self):
        self.user = User.objects.create_user("designer", password="merrow-coast")
        project = create_project(owner=self.user, name="Kiln yard", place="", weather=merrow_coast())
        self.design = Design.objects.get(project=project)
        self.children = []

    def tearDown(self):
        for child in self.children:
            child.kill()
            child.wait()
        with connection.cursor() as cursor:
            cursor.execute("TRUNCATE procrastinate_jobs, procrastinate_workers CASCADE")

    def worker(self, *options, port=None):
        code = (
            "import django; from django.conf import settings; django.setup();"
            "from django.core.management import call_command; import sys;"
            "call_command('work', *sys.argv[1:])"
        )
        environment = {
            **os.environ,
            "DJANGO_SETTINGS_MODULE": "web.config.test_settings",
            "LEDGER_DB_NAME": connection.settings_dict["NAME"],
            "LEDGER_DB_PORT": str(port or connection.settings_dict["PORT"]),
        }
        child = subprocess.Popen(
            [sys.executable, "-c", code, *options],
            cwd=settings.ROOT,
            env=environment,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        self.children.append(child)
        return child

    def until(self, true, seconds=300):  # workers stand behind everything else on a busy machine
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            if true():
                return
            time.sleep(0.1)
        self.fail("nothing came of it in time")

    def test_two_people_who_request_at_once_get_one_run(self):
        def requested(_):
            try:
                return require(Design.objects.get(pk=self.design.pk), self.user, 100).pk
            finally:
                connections.close_all()

        with ThreadPoolExecutor(4) as threads:
            self.assertEqual(len(set(threads.map(requested, range(4)))), 1)
        self.assertEqual(Chunk.objects.count(), 5)

    def test_a_killed_worker_loses_a_chunk_at_most_and_another_ends_the_run(self):
        run = require(self.design, self.user, 240)
        first = self.worker("--threads=1")
        self.until(lambda: progress(run).done >= 20)
        first.send_signal(signal.SIGKILL)
        first.wait()
        done = set(run.chunks.exclude(done=None).values_list("index", "done"))
        left = ProcrastinateJob.objects.filter(status="doing").count()
        self.assertLessEqual(left, 2)
        self.a_minute_goes_by()
        self.worker("--threads=2")
        self.until(lambda: progress(run).finished)
        self.assertTrue(done <= set(run.chunks.values_list("index", "done")))  # none was counted twice
        self.assertTrue(np.isfinite(answer(run)["fraction"]).all())
        with patch.object(services, "AT_ONCE", 1000):
            other = require(self.design, self.user, 240, seed=1)
        self.assertEqual(other.pk, run.pk)

    def a_minute_goes_by(self):
        """Without a sign of life of whoever worked, until the care of every minute looks."""
        with connection.cursor() as cursor:
            cursor.execute("UPDATE procrastinate_workers SET last_heartbeat = last_heartbeat - interval '1 minute'")
        if not ProcrastinateJob.objects.filter(task_name="left behind", status="todo").exists():
            left_behind.defer(timestamp=0)

    def test_a_database_out_of_reach_in_mid_run_stops_nothing_for_good(self):
        way = Proxy(int(connection.settings_dict["PORT"]))
        self.addCleanup(way.close)
        run = require(self.design, self.user, 240)
        child = self.worker("--threads=2", port=way.port)
        self.until(lambda: progress(run).done >= 20)
        way.cut()
        time.sleep(3)  # longer than a chunk: what is done meanwhile cannot be kept
        done = set(run.chunks.exclude(done=None).values_list("index", "done"))
        self.assertFalse(progress(run).finished)
        way.open = True
        self.a_minute_goes_by()
        self.until(lambda: progress(run).finished)
        self.assertIsNone(child.poll())  # the same worker went on
        self.assertTrue(done <= set(run.chunks.values_list("index", "done")))
        self.assertTrue(np.isfinite(answer(run)["fraction"]).all())

    def test_a_killed_server_takes_its_worker_with_it_and_the_next_goes_on(self):
        run = require(self.design, self.user, 240)
        first = self.server()
        self.until(lambda: progress(run).done >= 20)
        first.send_signal(signal.SIGKILL)
        first.wait()
        done = set(run.chunks.exclude(done=None).values_list("index", "done"))
        self.assertFalse(progress(run).finished)
        second = self.server()
        self.until(lambda: run.chunks.exclude(done=None).count() > len(done))  # it is at work
        self.a_minute_goes_by()
        self.until(lambda: progress(run).finished)
        self.assertTrue(done <= set(run.chunks.values_list("index", "done")))
        second.terminate()
        second.wait()

    def server(self):
        """A server of its own, with the worker it keeps."""
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            port = probe.getsockname()[1]
        environment = {
            **os.environ,
            "DJANGO_SETTINGS_MODULE": "web.config.tests.live_settings",
            "LEDGER_TEST_DATABASE": connection.settings_dict["NAME"],
            "LEDGER_WORK": "1",
            "LEDGER_WORKERS": "1",
            "LEDGER_PORT": str(port),
        }
        command = [str(Path(sys.executable).with_name("gunicorn")), "-c", "web/config/gunicorn.py", "web.config.wsgi"]
        child = subprocess.Popen(
            command, cwd=settings.ROOT, env=environment, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
        )
        self.children.append(child)
        return child
