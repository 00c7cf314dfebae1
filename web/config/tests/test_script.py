"""The start script says clearly what is missing; the bench prints its keys."""

import json
import os
import socket
import subprocess
import sys
import tempfile
from pathlib import Path
from unittest import TestCase, mock

from django.conf import settings
from django.core.management import call_command

ROOT = Path(settings.ROOT)


def ledger(*arguments, **environment):
    return subprocess.run(
        ["bash", str(ROOT / "ledger"), *arguments],
        env={**os.environ, **environment}, capture_output=True, text=True, timeout=120, check=False,
    )  # fmt: skip


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
                ["/bin/bash", str(copy), "manage"], env={"PATH": str(tools), "LEDGER_STATE": f"{folder}/state"},
                capture_output=True, text=True, timeout=60, check=False,
            )  # fmt: skip
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
                capture_output=True, text=True, timeout=30, check=False,
            )  # fmt: skip
            self.assertEqual(done.returncode, 1)
            self.assertIn(f"port {port} is taken by another program", done.stderr)


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
