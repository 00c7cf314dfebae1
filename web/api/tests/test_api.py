"""The interface for programs: each key by what it is for, whose it is and which project it is for; the same figures,
the same refusals as on the page."""

import html
import json
import re
from datetime import timedelta

from django.urls import get_resolver
from django.utils import timezone

from heat.simulation.year import simulate
from web.accounts.models import Token
from web.accounts.tokens import make_token
from web.api.endpoints import api
from web.jobs.limits import A_MINUTE, RUNNING
from web.jobs.models import Run, Spent
from web.jobs.services import simulate_chunk
from web.logs.services import begin_log
from web.projects.climates import merrow_coast
from web.projects.models import Project
from web.projects.services.designs import create_project
from web.projects.services.sharing import give_to_firm
from web.projects.tests.helpers import FirmCase
from web.reports.models import Report

VOLUME = "system.store.volume_l"
SWEEP = {
    "questions": [
        {"name": "store", "answers": [{"name": "300 L", "set": {VOLUME: 300}}, {"name": "400 L", "set": {VOLUME: 400}}]}
    ]
}
NEEDS = {
    "simulate_document": ("simulate", "view"),
    "simulate_document_by_its_earlier_address": ("simulate", "view"),
    "list_projects": ("read", ""),
    "begin_project": ("write", ""),
    "one_project": ("read", "view"),
    "one_design": ("read", "view"),
    "change_design": ("write", "survey"),
    "design_year": ("read", "view"),
    "design_hours": ("read", "view"),
    "list_weather": ("read", "view"),
    "bring_weather": ("write", "survey"),
    "request_sweep": ("simulate", "edit"),
    "run_progress": ("read", "view"),
    "run_results": ("read", "view"),
    "end_run": ("simulate", "edit"),
    "take_readings": ("write", "survey"),
    "list_reports": ("read", "view"),
    "issue_report": ("write", "edit"),
    "report_pdf": ("read", "view"),
}
"""Of each address: what its key must be for, and what its person needs with the project."""
OPEN = {"api-root", "openapi-json"}


class ApiCase(FirmCase):
    def key(self, person="owner", scopes=("read", "write", "simulate"), project=None):
        _made, text = make_token(user=self.people[person], name="test", scopes=list(scopes), project=project)
        return text

    def setUp(self):
        self.mine = self.key()

    def call(self, method, path, payload=None, key=None, **more):
        headers = {"Authorization": f"Bearer {key or self.mine}"} if key != "" else {}
        if payload is not None:
            more |= {"data": json.dumps(payload), "content_type": "application/json"}
        return self.client.generic(method, f"/api/{path}", headers=headers, **more)

    @property
    def there(self):
        return f"projects/{self.project.pk}/designs/A"


class Authentication(ApiCase):
    """Every address by every kind of key, from the interface's own table."""

    def operations(self):
        found = {}
        for router in [router for _prefix, router in api._routers]:
            for view in router.path_operations.values():
                for one in view.operations:
                    found[one.view_func.__name__] = (one.methods[0], one.path)
        return found

    def setUp(self):
        super().setUp()
        self.log = begin_log(design=self.fresh(), author=self.user)
        self.run_pk = self.call("POST", f"{self.there}/sweeps", SWEEP).json()["number"]

    def bodies(self):
        return {
            "simulate_document": {"project": self.project.pk},
            "simulate_document_by_its_earlier_address": {"project": self.project.pk},
            "begin_project": {"name": "Net loft"},
            "change_design": {"set": {"demand.people": 5}},
            "request_sweep": SWEEP,
            "take_readings": {"readings": []},
            "issue_report": {"sections": ["tank"]},
        }

    def require(self, name, method, path, key):
        values = {
            "{int:pk}": str(self.log.pk if "/logs/" in path else self.project.pk),
            "{letter}": "A",
            "{int:number}": str(self.run_pk if "/runs/" in path else 1),
        }
        for part, value in values.items():
            path = path.replace(part, value)
        return self.call(method, path.lstrip("/"), self.bodies().get(name), key=key).status_code

    def test_every_address_has_an_entry(self):
        names = {n for n in get_resolver().namespace_dict["api"][1].reverse_dict if isinstance(n, str)}
        self.assertEqual(names, {*NEEDS, *OPEN})
        self.assertEqual(set(self.operations()), set(NEEDS))

    def test_by_key(self):
        may = {"view": {"viewer", "assessor", "editor"}, "survey": {"assessor", "editor"}, "edit": {"editor"}}
        keys = {person: self.key(person) for person in ("viewer", "assessor", "editor", "stranger")}
        scoped = {scope: self.key(scopes=(scope,)) for scope in ("read", "write", "simulate")}
        elsewhere = self.key(project=self.project.pk + 1)
        ended = self.key()
        Token.objects.filter(start=ended[:8]).order_by("-pk").first()
        Token.objects.filter(pk=Token.objects.latest("pk").pk).update(ended=timezone.now())
        for name, (method, path) in self.operations().items():
            scope, need = NEEDS[name]
            with self.subTest(address=name):
                self.assertEqual(self.require(name, method, path, ""), 401)
                self.assertEqual(self.require(name, method, path, ended), 401)
                self.assertEqual(self.require(name, method, path, "rl_nonsense"), 401)
                for other, key in scoped.items():
                    if other != scope:
                        self.assertEqual(self.require(name, method, path, key), 403)
                if not need:
                    continue
                for person, key in keys.items():
                    status = self.require(name, method, path, key) if name != "bring_weather" else None
                    wanted = None if status is None else 404 if person == "stranger" else 403
                    if person in may[need]:
                        self.assertIn(
                            status, (None, 200, 201, 202, 404) if name == "report_pdf" else (None, 200, 201, 202)
                        )
                    else:
                        self.assertEqual(status, wanted)
                if name != "bring_weather":
                    self.assertEqual(self.require(name, method, path, elsewhere), 404)

    def test_signing_in_opens_nothing_here(self):
        self.client.force_login(self.user)
        self.assertEqual(self.call("GET", "projects", key="").status_code, 401)


class Works(ApiCase):
    def test_a_document_is_simulated_as_the_core_does(self):
        response = self.call("POST", "reckon", {"document": {"system": {"store": {"volume_l": 400}}}, "months": True})
        self.assertEqual(response.status_code, 200)
        design = self.fresh().document()
        design["system"]["store"]["volume_l"] = 400
        year = response.json()
        from heat.design import Design, parse

        book = simulate(
            parse({**Design().model_dump(mode="json"), "system": {"store": {"volume_l": 400}}}), merrow_coast()
        )
        self.assertAlmostEqual(year["figures"]["fraction_at_use"], book.fractions.at_tap, places=9)
        self.assertAlmostEqual(sum(year["months"]["bought_kwh"]), year["figures"]["bought_kwh"], places=6)
        self.assertTrue(year["rough"])

    def test_a_value_changed_is_an_edit_with_its_author(self):
        key = self.key("designer")
        response = self.call("PATCH", self.there, {"set": {VOLUME: 410}, "expected": {VOLUME: 300}}, key=key)
        self.assertEqual((response.status_code, response.json()["revision"]), (200, 1))
        again = self.call("PATCH", self.there, {"set": {VOLUME: 500}, "seen": {VOLUME: 300}}, key=key)
        self.assertEqual((again.status_code, again.json()["where"]), (409, VOLUME))
        self.assertEqual(str(self.project.edits.get().author), "designer")
        self.assertEqual(self.call("GET", self.there).json()["document"]["system"]["store"]["volume_l"], 410)

    def test_names_of_earlier_versions_are_read_and_answered(self):
        response = self.call("PATCH", self.there, {"set": {"reckoning.layers": 24, "site.mains.source": "reckoned"}})
        self.assertEqual((response.status_code, response.json()["document"]["numerics"]["layers"]), (200, 24))
        year = self.call("POST", "reckon", {"document": {"reckoning": {"layers": 5}}, "months": True}).json()
        self.assertEqual(year["figures"]["missing_kwh"], year["figures"]["unmet_kwh"])
        self.assertEqual(year["months"]["missing_kwh"], year["months"]["unmet_kwh"])
        now = self.call("POST", "simulate", {"document": {"version": 3, "numerics": {"layers": 5}}}).json()
        self.assertEqual(now["figures"], year["figures"])

    def test_refusals_in_the_same_words_with_their_place(self):
        response = self.call("PATCH", self.there, {"set": {VOLUME: -4}})
        self.assertEqual((response.status_code, response.json()["where"]), (422, VOLUME))
        for odd in (
            {"set": {"no.such": 1}},
            {"set": {}},
            {"set": {"weather": 7}},
            {"set": {VOLUME: {"a": "\0"}}},
            {"set": {"demand.people": 5}, "more": 1},
            [],
            None,
        ):
            response = self.call("PATCH", self.there, odd)
            self.assertIn(response.status_code, (400, 415, 422), odd)
            self.assertTrue(response.json()["error"])
        raw = self.client.generic(
            "PATCH",
            f"/api/{self.there}",
            '{"set": {"demand.people": NaN}}',
            content_type="application/json",
            headers={"Authorization": f"Bearer {self.mine}"},
        )
        self.assertEqual(raw.status_code, 422)
        self.assertEqual(self.project.edits.count(), 0)

    def test_what_is_no_json_is_refused(self):
        for kind in ("text/plain", "application/x-www-form-urlencoded"):
            response = self.call("PATCH", self.there, data='{"set": {"demand.people": 5}}', content_type=kind)
            self.assertEqual(response.status_code, 415)
        self.assertEqual(self.project.edits.count(), 0)

    def test_a_project_from_its_place_to_its_year(self):
        place = {"latitude_deg": 46.4, "longitude_deg": -30.0, "elevation_m": 10}
        made = self.call("POST", "projects", {"name": "Weir House", "place": place, "firm": self.firm.pk})
        self.assertEqual(made.status_code, 201)
        number = made.json()["number"]
        self.assertEqual((made.json()["firm"], made.json()["right"]), ("Merrow Heat Works", "own"))
        year = self.call("GET", f"projects/{number}/designs/A/year").json()
        self.assertTrue(0 < year["figures"]["fraction_at_use"] < 1)
        self.assertEqual(self.call("GET", "projects").json()["count"], 2)
        hours = self.call("GET", f"projects/{number}/designs/A/hours.csv").content.decode()
        self.assertEqual(len(hours.splitlines()), 8761)

    def test_weather_brought_is_in_use(self):
        from django.core.files.uploadedfile import SimpleUploadedFile

        headers = {"Authorization": f"Bearer {self.mine}"}
        here = f"/api/projects/{self.project.pk}/weather"
        odd = self.client.post(here, {"file": SimpleUploadedFile("x.csv", b"\0\1nothing")}, headers=headers)
        self.assertEqual(odd.status_code, 422)
        self.assertTrue(odd.json()["error"])
        self.assertEqual(len(self.call("GET", f"projects/{self.project.pk}/weather").json()), 1)

    def test_a_sweep_from_requested_to_reported(self):
        requested = self.call("POST", f"{self.there}/sweeps", SWEEP)
        self.assertEqual(requested.status_code, 202)
        number = requested.json()["number"]
        for index in Run.objects.get(pk=number).chunks.values_list("index", flat=True):
            simulate_chunk(number, index)
        self.assertTrue(self.call("GET", f"runs/{number}").json()["finished"])
        rows = self.call("GET", f"runs/{number}/results").json()["rows"]
        self.assertEqual([row["store"] for row in rows], ["300 L", "400 L"])
        self.assertGreater(rows[0]["bought_kwh"], rows[1]["bought_kwh"])
        self.assertTrue(self.call("DELETE", f"runs/{number}").json()["stopped"])

    def test_a_report_issued_and_fetched(self):
        made = self.call("POST", f"{self.there}/reports", {"title": "For the client", "sections": ["year"]})
        self.assertEqual(made.status_code, 201, made.content)
        pdf = self.call("GET", f"projects/{self.project.pk}/reports/1.pdf")
        self.assertTrue(pdf.content.startswith(b"%PDF"))
        self.assertEqual(Report.objects.get().title, "For the client")

    def test_readings_once(self):
        log = begin_log(design=self.fresh(), author=self.user)
        payload = {"readings": [{"at": timezone.now().isoformat(), "collector": 41.5}, {"at": "never"}]}
        first = self.call("POST", f"logs/{log.pk}/readings", payload).json()
        self.assertEqual(first["kept"], 1, first)
        again = self.call("POST", f"logs/{log.pk}/readings", payload).json()
        self.assertEqual((again["kept"], again["known"], len(again["refused"])), (0, 1, 1))

    def test_a_key_for_one_project_sees_no_other(self):
        other = create_project(owner=self.user, name="Net loft", place="", weather=merrow_coast())
        key = self.key(project=self.project.pk)
        self.assertEqual(self.call("GET", f"projects/{other.pk}", key=key).status_code, 404)
        self.assertEqual(self.call("GET", "projects", key=key).json()["count"], 1)
        self.assertEqual(self.call("POST", "projects", {"name": "x"}, key=key).status_code, 403)
        self.assertEqual(Project.objects.count(), 2)

    def test_a_list_requests_no_more_for_each_project(self):
        key = self.key("designer")
        for name in ("Net loft", "Lime kiln", "Boat store"):
            project = create_project(owner=self.user, name=name, place="", weather=merrow_coast())
            give_to_firm(project=project, author=self.user, firm=self.firm)
        with self.assertNumQueries(5):  # key, that it is in use, projects, designs, how many
            listed = self.call("GET", "projects", key=key).json()
        self.assertEqual({p["right"] for p in listed["projects"]}, {"edit"})

    def test_its_page_and_document(self):
        self.client.force_login(self.user)
        page = self.client.get("/api/docs")
        self.assertContains(page, "curl -X PATCH")
        self.assertContains(page, f"/api/projects/{self.project.pk}/designs/A")

    def test_printed_lines_answer(self):
        self.call("POST", f"{self.there}/reports", {"sections": ["year"]})
        self.call("POST", f"{self.there}/sweeps", SWEEP)
        begin_log(design=self.fresh(), author=self.user)
        self.client.force_login(self.user)
        page = html.unescape(self.client.get("/api/docs").content.decode())
        lines = re.findall(r"<code>curl -H [^\n]*?testserver/api/([^ <]+)", page)
        self.assertGreater(len(lines), 8)
        for line in lines:
            self.assertEqual(self.call("GET", line).status_code, 200, line)
        schema = self.client.get("/api/openapi.json").json()
        self.assertEqual(schema["openapi"][0], "3")


class Limits(ApiCase):
    def test_years_a_minute(self):
        minute = timezone.now().replace(second=0, microsecond=0)
        for at in (minute, minute + timedelta(minutes=1)):
            Spent.objects.create(user=self.user, minute=at, years=A_MINUTE)
        response = self.call("POST", "reckon", {})
        self.assertEqual(response.status_code, 429)
        self.assertIn("Wait for the next minute", response.json()["error"])
        self.assertEqual(self.call("POST", "reckon", {}, key=self.key("viewer")).status_code, 200)

    def test_long_questions_under_way(self):
        run = self.call("POST", f"{self.there}/sweeps", SWEEP)
        template = Run.objects.get(pk=run.json()["number"])
        for i in range(RUNNING):
            Run.objects.create(
                project=self.project,
                letter="A",
                purpose="choices",
                question={},
                document={},
                engine="x",
                key=f"k{i}",
                weather=template.weather,
                size=900,
                requested_by=self.user,
            )
        other = {"questions": [{**SWEEP["questions"][0], "name": "another"}]}
        response = self.call("POST", f"{self.there}/sweeps", other)
        self.assertEqual(response.status_code, 429)
        self.assertIn("Wait for one to end, or stop one", response.json()["error"])
        self.assertEqual(self.call("POST", f"{self.there}/sweeps", other, key=self.key("designer")).status_code, 202)
        page = self.client.force_login(self.user) or self.post("weigh/doubt", view="view=uncertainty", seed="3")
        self.assertEqual(page.status_code, 422)
        self.assertIn("Wait for one to end", page.content.decode())
