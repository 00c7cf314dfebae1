"""The start script says clearly what is missing; the bench prints its keys."""

import json
import os
import socket
import subprocess
import sys
import tempfile
from pathlib import Path
from time import sleep
from unittest import TestCase, mock

from django.conf import settings
from django.core.management import call_command
from django.test import Client, override_settings

ROOT = Path(settings.ROOT)


def ledger(*arguments, **environment):
    return subprocess.run(
        ["bash", str(ROOT / "ledger"), *arguments],
        env={**os.environ, **environment},
        capture_output=True,
        text=True,
        timeout=120,
        check=False,
    )


class Script(TestCase):
    def test_help_names_every_command(self):
        text = ledger("help").stdout
        for command in ("demo", "test", "serve", "stop", "manage", "bench", "lint", "styles", "lock"):
            self.assertIn(f"./ledger {command}", text)

    def test_unknown_command(self):
        done = ledger("dance")
        self.assertEqual(done.returncode, 1)
        self.assertIn("there is no command “dance”", done.stderr)

    def test_folder_that_cannot_be_written(self):
        with tempfile.NamedTemporaryFile() as file:
            done = ledger("manage", "check", LEDGER_STATE=f"{file.name}/state")
            self.assertEqual(done.returncode, 1)
            self.assertIn("cannot be written", done.stderr)

    def test_no_python_3_11_and_no_way_to_get_it(self):
        """A path without Python, package tools or sudo: the script names what is missing."""
        with tempfile.TemporaryDirectory() as folder:
            tools = Path(folder) / "bin"
            tools.mkdir()
            for tool in ("bash", "dirname", "mkdir", "chmod", "flock", "uname", "id", "printf", "sort", "cat"):
                (tools / tool).symlink_to(f"/usr/bin/{tool}" if Path(f"/usr/bin/{tool}").exists() else f"/bin/{tool}")
            script = (ROOT / "ledger").read_text().replace("/usr/bin/python3.11", "/nowhere/python3.11")
            copy = Path(folder) / "ledger"
            copy.write_text(script)
            done = subprocess.run(
                ["/bin/bash", str(copy), "manage"],
                env={"PATH": str(tools), "LEDGER_STATE": f"{folder}/state"},
                capture_output=True,
                text=True,
                timeout=60,
                check=False,
            )
            self.assertEqual(done.returncode, 1)
            self.assertIn("python3.11", done.stderr)

    def test_port_taken_by_another_program(self):
        with socket.socket() as other:
            other.bind(("127.0.0.1", 0))
            other.listen()
            port = other.getsockname()[1]
            script = (ROOT / "ledger").read_text()
            start = script.index("port_taken() {")
            taken = script[start : script.index("\n", start)]
            check = script[script.index("check_web_port() {") : script.index("stop_web() {")]
            fail = script[script.index("fail() {") : script.index("usage() {")]
            done = subprocess.run(
                ["bash", "-c", f"{fail}\n{taken}\n{check}\nWEB_PORT={port}; check_web_port demo"],
                capture_output=True,
                text=True,
                timeout=30,
                check=False,
            )
            self.assertEqual(done.returncode, 1)
            self.assertIn(f"port {port} is taken by another program", done.stderr)

    def test_only_what_is_proven_ours_is_stopped(self):
        """A stale note may name a process that is somebody else's by now."""
        with tempfile.TemporaryDirectory() as folder, subprocess.Popen(["sleep", "100"]) as stranger:
            start = Path(f"/proc/{stranger.pid}/stat").read_text().rpartition(") ")[2].split()[19]
            for note in (str(stranger.pid), f"{stranger.pid} {start}", f"{stranger.pid} 1", "no number", ""):
                with self.subTest(note):
                    (Path(folder) / "web.pid").write_text(note + "\n")
                    self.assertEqual(ledger("running", LEDGER_STATE=folder).returncode, 1)
                    self.assertEqual(ledger("stop", LEDGER_STATE=folder).returncode, 0)
                    self.assertIsNone(stranger.poll())
            stranger.kill()

    def test_a_relative_state_folder_is_below_where_one_is(self):
        with tempfile.TemporaryDirectory() as folder:
            done = subprocess.run(
                ["bash", str(ROOT / "ledger"), "stop"],
                env={**os.environ, "LEDGER_STATE": "mine"},
                cwd=folder,
                capture_output=True,
                text=True,
                timeout=60,
                check=False,
            )
            self.assertEqual(done.returncode, 0, done.stderr)
            self.assertTrue((Path(folder) / "mine" / "lock").exists())

    def test_stop_waits_for_what_is_being_set_up(self):
        with tempfile.TemporaryDirectory() as folder:
            lock = Path(folder) / "lock"
            with subprocess.Popen(["flock", str(lock), "sleep", "1.5"]):
                for _ in range(50):
                    if lock.exists():
                        break
                    sleep(0.05)
                self.assertIn("another ./ledger is setting up", ledger("stop", LEDGER_STATE=folder).stdout)


class Health(TestCase):
    def test_it_answers_on_this_machine_whatever_the_host_and_scheme(self):
        with self.settings_of_a_server():
            client = Client()
            self.assertEqual(client.get("/health", headers={"Host": "127.0.0.1:8000"}).content, b"red-ledger")
            self.assertEqual(client.get("/sign-in", headers={"Host": "127.0.0.1:8000"}).status_code, 400)
            away = client.get("/health", headers={"Host": "red.example"}, REMOTE_ADDR="192.0.2.7")
            self.assertEqual(away.status_code, 301)

    def settings_of_a_server(self):
        return override_settings(ALLOWED_HOSTS=["red.example"], SECURE_SSL_REDIRECT=True)


class Bench(TestCase):
    def test_json_has_the_promised_keys(self):
        """The measuring itself is replaced: no test depends on time."""
        from web.workspace.management.commands import bench

        http = {"edit_median_ms": 1.0, "edit_p95_ms": 2.0, "page_ms": 1.0, "serving_mb": 3.0}
        with (
            tempfile.TemporaryDirectory() as folder,
            self.settings_state(folder),
            mock.patch.object(bench, "median_ms", return_value=4.0),
            mock.patch.object(bench, "http_figures", return_value=http),
            mock.patch.object(bench, "crowd_figures", return_value={}),
            mock.patch.object(bench, "sweep_figures", return_value={"sweep_1000_s": 5.0}),
            mock.patch.object(bench, "first_year_s", return_value=1.0),
            mock.patch("sys.stdout") as out,
        ):
            call_command("bench", "--json", stdout=out)
            found = json.loads((Path(folder) / "bench.json").read_text())
        for key in ("year_plain_ms", "weather_import_ms", "plane_ms", "edit_median_ms", "edit_p95_ms", "serving_mb"):
            self.assertIn(key, found)
        self.assertEqual(found["year_plain_ms_ratio"], 1.0)

    def settings_state(self, folder):
        return mock.patch.object(settings, "STATE", Path(folder))

    def test_median(self):
        from web.workspace.management.commands.bench import median_ms

        calls = []
        self.assertGreaterEqual(median_ms(lambda: calls.append(1), 5), 0.0)
        self.assertEqual(len(calls), 6)


class Shipping(TestCase):
    def test_no_address_outside_in_what_ships(self):
        """Templates, styles and our scripts ask nothing of other machines."""
        files = [
            *ROOT.glob("web/**/templates/**/*.html"),
            *ROOT.glob("web/**/static/**/*.css"),
            *(f for f in ROOT.glob("web/**/static/**/*.js") if "vendor" not in f.parts),
        ]
        for path in files:
            text = path.read_text().replace("http://www.w3.org", "")
            self.assertNotRegex(text, r"https?://(?!tailwindcss)", path.name)
            self.assertNotRegex(text, r"<[^>]+\sstyle=|\son[a-z]+=\"", path.name)

    def test_locks_are_hashed_and_name_no_registry(self):
        for lock in ("base", "dev", "uv"):
            text = (ROOT / f"requirements/{lock}.txt").read_text()
            self.assertIn("--hash=sha256:", text)
            self.assertNotIn("://", text)

    def test_python_is_3_11(self):
        self.assertEqual(sys.version_info[:2], (3, 11))
