"""The scripts that decide things, by the test runner of the Node that the browser driver brings along."""

import re
import subprocess
from pathlib import Path

import playwright
from django.conf import settings
from django.test import SimpleTestCase

FOLDER = Path(__file__).parent / "scripts"
NODE = Path(playwright.__file__).parent / "driver" / "node"


class Scripts(SimpleTestCase):
    def test_the_deciding_scripts(self):
        found = [str(path) for path in sorted(FOLDER.glob("*.test.mjs"))]
        done = subprocess.run([str(NODE), "--test", *found], capture_output=True, text=True, check=False, timeout=60)
        self.assertEqual(done.returncode, 0, done.stdout[-3000:])
        self.assertGreaterEqual(int(re.search(r"pass (\d+)", done.stdout).group(1)), 5)

    def test_every_script_is_a_module_without_globals_of_its_own(self):
        for path in (settings.ROOT / "web").rglob("static/**/*.js"):
            if "vendor" not in path.parts:
                text = path.read_text()
                self.assertNotIn("window.redLedger", text, path.name)
                self.assertNotRegex(text, r"(?m)^\(\(\) =>", path.name)
