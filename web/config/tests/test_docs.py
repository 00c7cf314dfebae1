"""What the documents point to is there."""

import re
from pathlib import Path
from unittest import TestCase

from django.conf import settings

ROOT = Path(settings.ROOT)


class Security(TestCase):
    def test_every_test_named_is_there(self):
        text = (ROOT / "docs" / "security.md").read_text()
        named = set(re.findall(r"\| ([a-z_]+(?:\.[a-z_]+)+) \|", text))
        self.assertGreater(len(named), 10)
        for name in named:
            self.assertTrue((ROOT / "web" / f"{name.replace('.', '/')}.py").exists(), name)

    def test_every_command_named_is_there(self):
        script = (ROOT / "ledger").read_text()
        for page in (ROOT / "docs").glob("*.md"):
            for command in re.findall(r"`\./ledger ([a-z]+)", page.read_text()):
                self.assertIn(command, script, page.name)
