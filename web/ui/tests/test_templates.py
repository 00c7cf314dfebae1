"""What every template keeps to."""

from django.conf import settings
from django.test import SimpleTestCase

LONGEST = 160


class Templates(SimpleTestCase):
    def test_no_line_is_longer_than_a_reader_bears(self):
        for path in (settings.ROOT / "web").rglob("templates/**/*.html"):
            for number, line in enumerate(path.read_text().split("\n"), start=1):
                self.assertLessEqual(len(line), LONGEST, f"{path.name}, line {number}")
