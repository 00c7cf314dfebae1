"""How often a page asks the database."""

from django.db import connection
from django.test.utils import CaptureQueriesContext

from web.projects.climates import merrow_coast
from web.projects.services.designs import create_project
from web.projects.tests.helpers import DeskCase


class Queries(DeskCase):
    def test_a_page_leaves_the_weather_arrays_in_the_database(self):
        self.client.get(self.url("scheme"))
        with self.assertNumQueries(5) as observed:
            self.client.get(self.url("scheme"))
        self.assertFalse([q for q in observed.captured_queries if '"raw"' in q["sql"] or '"data"' in q["sql"]])


class Budget(DeskCase):
    def test_the_list_of_projects_requests_no_more_for_each_project(self):
        for name in ("Net loft", "Lime kiln", "Boat store"):
            create_project(owner=self.user, name=name, place="", weather=merrow_coast())
        self.client.get("/")
        with self.assertNumQueries(5) as observed:
            self.client.get("/")
        self.assertFalse([q for q in observed.captured_queries if '"raw"' in q["sql"] or '"data"' in q["sql"]])

    def test_an_edit(self):
        create_project(owner=self.user, name="Net loft", place="", weather=merrow_coast())
        self.client.post(self.url("designs"), {"do": "copy", "screen": "scheme"})
        for value in ("310", "320"):
            with CaptureQueriesContext(connection) as observed:
                self.edit("system.store.volume_l", value, key=f"q{value}", revision="1")
        requested = [q["sql"] for q in observed.captured_queries if "SAVEPOINT" not in q["sql"]]
        self.assertLess(len(requested), 12, requested)
