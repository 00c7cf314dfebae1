"""Names in the code are words that a solar engineer, or a Django developer, would type into a search box."""

import io
import keyword
import re
import tokenize
from unittest import TestCase

from web.config.tests.test_sizes import ROOT, sources

OLD = {
    *("reckon", "reckons", "reckoned", "reckoning", "weighs", "weighed", "weighing", "worth"),
    *("told", "tell", "tells", "telling", "said", "say", "kept", "keep", "keeping", "asked", "ask", "asking"),
    *("seen", "shown", "pen", "pens", "ink", "inked", "slip", "cloth", "sheet", "piece", "pieces", "door", "doors"),
    *("together", "happening", "happenings", "remarks", "doubt", "doubts", "doubted", "school", "schools"),
    *("bed", "lid", "overwarm", "mistake", "mistakes", "held", "heard", "moved"),
}
"""Words that names were made of before, each with a standard one in its place."""
READING_OLD_DATA = {
    "seen": "a field of the interface for programs and of a session's row",
    "kept": "an earlier field of the interface for programs",
    "moved": "an earlier field of the interface for programs",
    "asked_for": "a column of a query: the person it was made for",
    "heard": "a column of a log's row",
    "create_sheet": "openpyxl's",
}
"""Names that stand in kept data or in others' programs, and libraries' own."""

TWINS = {"Command", "Coil", "Design", "FloorSlab", "Log", "Loop", "Pipe", "Stove"}
"""One thing in two forms: a part as the document describes it and as the compiled loop reads it, a document and its row
in the database; and what Django asks every command to be called."""


def parts(name):
    return [word.lower() for word in re.findall(r"[A-Z]+(?=[A-Z][a-z])|[A-Z]?[a-z0-9]+|[A-Z]+", name)]


class Words(TestCase):
    def test_names_are_of_today(self):
        found = {}
        for path in sources():
            if "migrations" in path.parts:
                continue
            for token in tokenize.generate_tokens(io.StringIO(path.read_text()).readline):
                name = token.string
                if token.type != tokenize.NAME or keyword.iskeyword(name) or name.startswith("test_"):
                    continue
                if name not in READING_OLD_DATA and OLD & set(parts(name)):
                    found.setdefault(name, f"{path.relative_to(ROOT)}:{token.start[0]}")
        self.assertEqual(found, {})

    def test_modules_and_templates_are_too(self):
        for path in (ROOT / "web").rglob("*"):
            if path.suffix in (".py", ".html", ".css", ".js") and "migrations" not in path.parts:
                with self.subTest(path=path):
                    self.assertFalse(OLD & set(parts(path.stem)))

    def test_public_classes_are_named_once(self):
        places = {}
        for path in sources():
            if "tests" in path.parts or "migrations" in path.parts:
                continue
            for name in re.findall(r"^class ([A-Z]\w+)", path.read_text(), re.M):
                places.setdefault(name, []).append(str(path.relative_to(ROOT)))
        twice = {name: where for name, where in places.items() if len(where) > 1 and name not in TWINS}
        self.assertEqual(twice, {})
