"""How often a page asks the database."""

from web.projects.climates import merrow_coast
from web.projects.services.designs import create_project
from web.projects.tests.helpers import DeskCase


class Queries(DeskCase):
    def test_a_page_leaves_the_weather_arrays_in_the_database(self):
        self.client.get(self.url("scheme"))
        with self.assertNumQueries(9) as seen:
            self.client.get(self.url("scheme"))
        self.assertFalse([q for q in seen.captured_queries if '"raw"' in q["sql"] or '"data"' in q["sql"]])


class Budget(DeskCase):
    def test_the_list_of_projects_asks_no_more_for_each_project(self):
        for name in ("Net loft", "Lime kiln", "Boat store"):
            create_project(owner=self.user, name=name, place="", weather=merrow_coast())
        self.client.get("/")
        with self.assertNumQueries(4) as seen:
            self.client.get("/")
        self.assertFalse([q for q in seen.captured_queries if '"raw"' in q["sql"] or '"data"' in q["sql"]])
