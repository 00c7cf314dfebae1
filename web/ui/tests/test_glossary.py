"""The glossary: whole, findable by other names, each term leading to a page."""

import re
from unittest import TestCase

from django.conf import settings

from web.ui.glossary import by_key, terms

WANTED = (
    *("help", "payback", "legionella", "efficiency", "monthly method", "heat loss", "head", "solar fraction", "glycol"),
    *("insulation", "wood stove", "shading", "npv", "stagnation", "how sure", "dhw", "f", "co2", "tubes or plates"),
)
"""What practitioners typed and were answered nothing."""


def found(text):
    words = text.split()
    return [t for t in terms() if all(w in " ".join((t.name, *t.synonyms)).lower() for w in words)]


class Glossary(TestCase):
    def test_every_term_says_what_it_means_where_it_matters_and_whose_it_is(self):
        self.assertGreater(len(terms()), 50)
        for term in terms():
            with self.subTest(term=term.name):
                self.assertGreater(len(term.meaning), 60)
                self.assertRegex(term.meaning, r"\.$")
                self.assertGreaterEqual(len(term.synonyms), 2)
                self.assertTrue(term.source)
                self.assertRegex(term.where, r"^[a-z]+(\?(view|part)=[a-z_]+)?$")
                self.assertIn(f"web.steps.{term.where.split('?')[0]}", settings.STEPS)
        self.assertEqual(len(by_key()), len(terms()))

    def test_what_people_type_is_found(self):
        for text in WANTED:
            with self.subTest(text=text):
                self.assertTrue(found(text))

    def test_templates_ask_for_terms_there_are(self):
        wanted = set()
        for path in (settings.ROOT / "web").rglob("templates/**/*.html"):
            wanted |= set(re.findall(r'\{% term "([^"]+)" %\}', path.read_text()))
        self.assertGreater(len(wanted), 20)
        self.assertFalse(wanted - set(by_key()))
