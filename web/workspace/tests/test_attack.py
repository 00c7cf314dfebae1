"""What an attack on the running application found: two tabs, undo across designs, lost answers, crafted posts."""

import json

from django.core.files.uploadedfile import SimpleUploadedFile

from heat.tests.samples import raw
from web.projects.models import Design, Done, Edit
from web.projects.tests.helpers import DeskCase
from web.workspace.registry import steps

HTMX = {"HX-Request": "true"}


class Posting(DeskCase):
    def post(self, name, letter="A", **form):
        return self.client.post(self.of(letter, name), {"screen": "site", **form}, headers=HTMX)

    def of(self, letter, name):
        return self.url(name).replace("/A/", f"/{letter}/")

    def choose(self, changes, letter="A", **more):
        return self.post("choose", letter, changes=changes if isinstance(changes, str) else json.dumps(changes), **more)


class TwoTabs(Posting):
    def test_a_page_drawn_before_a_row_was_taken_is_answered(self):
        self.post("rows", path="site.trees")
        known = self.fresh().project.revision
        self.post("edit", path="site.trees.0.altitude_deg", value="7")
        self.post("rows", path="site.trees", index="0")
        for path, value in (("demand.litres_per_person_day", "61"), ("site.trees.0.altitude_deg", "9")):
            answer = self.post("edit", path=path, value=value, expected="8", revision=str(known))
            self.assertIn(answer.status_code, (200, 422), path)
        self.assertContains(
            self.post("edit", path="demand.litres_per_person_day", value="62", revision=str(known)),
            "Also changed in another tab",
        )

    def test_a_list_is_no_value_to_type(self):
        for path in (
            "site.planes",
            "site.trees",
            "site",
            "demand.showers",
            "system.used",
            "x" * 200,
            "site." + "0." * 90,
        ):
            answer = self.post("edit", path=path, value="1", revision="1", expected="2")
            self.assertEqual(answer.status_code, 422, path)


class UndoAcross(Posting):
    def setUp(self):
        super().setUp()
        self.choose({"demand.pool.fitted": True, "system.kind": "pool_direct", "system.loop.glycol_percent": 0})
        self.client.post(self.url("designs"), {"do": "copy", "screen": "scheme"})

    def leave(self, **more):
        return self.choose({"system.kind": "pumped_coil", "demand.pool.fitted": False}, "B", **more)

    def test_what_another_design_needs_is_requested_about_before_it_goes(self):
        answer = self.leave()
        self.assertEqual(answer.status_code, 422)
        self.assertContains(answer, "Design A", status_code=422)
        self.assertTrue(self.document()["demand"]["pool"]["fitted"])
        self.assertEqual(self.leave(force="1").status_code, 200)

    def test_undo_works_from_the_broken_design(self):
        self.leave(force="1")
        page = self.client.get(self.url("scheme"))
        self.assertContains(page, "Design A is not calculated")
        self.assertLess(self.client.get(self.url("steps"), {"part": "store"}).status_code, 500)
        self.assertEqual(self.post("undo").status_code, 200)
        self.assertContains(self.client.get(self.url("scheme")), "kWh")
        self.assertEqual(self.document()["system"]["kind"], "pool_direct")


class LostAnswers(Posting):
    def value(self):
        return self.document()["demand"]["litres_per_person_day"]

    def test_the_same_key_is_answered_again_not_done_again(self):
        before = self.value()
        for litres in ("61", "62"):
            self.post("edit", path="demand.litres_per_person_day", value=litres, key=f"edit-{litres}")
        for _ in range(2):
            self.assertEqual(self.post("undo", key="one-undo").status_code, 200)
        self.assertEqual(self.value(), 61)
        self.post("undo", key="another")
        self.assertEqual(self.value(), before)
        for _ in range(3):
            self.post("redo", key="one-redo")
        self.assertEqual(self.value(), 61)

    def test_rows_copies_choices_and_projects(self):
        for _ in range(2):
            self.post("rows", path="site.trees", key="row")
            answer = self.client.post(self.url("designs"), {"do": "copy", "screen": "scheme", "key": "copy"})
            self.assertTrue(answer.url.endswith("/B/scheme"))
            self.choose({"demand.litres_per_person_day": 33}, key="choice")
            fresh = self.client.post("/projects/new", {"name": "Twice", "key": "new"})
            self.assertEqual(fresh.status_code, 302)
        self.assertEqual(len(self.document()["site"]["trees"]), 1)
        self.assertEqual(Design.objects.filter(project=self.project).count(), 2)
        self.assertEqual(Edit.objects.filter(project=self.project).count(), 2)
        self.assertEqual(self.user.projects.filter(name="Twice").count(), 1)

    def test_a_refused_request_may_be_mended_under_its_key_and_keys_are_ones_own(self):
        self.assertEqual(self.post("edit", path="demand.litres_per_person_day", value="x", key="k").status_code, 422)
        self.assertEqual(self.post("edit", path="demand.litres_per_person_day", value="52", key="k").status_code, 200)
        self.assertEqual(self.value(), 52)
        self.assertEqual(set(Done.objects.values_list("author", flat=True)), {self.user.pk})


class Crafted(Posting):
    CHANGES = (
        '{"site": null}',
        '{"site.planes": 3}',
        "[" * 19_000,
        '{"a":' * 3000,
        '{"system.used": [{"group": "\\ud800"}]}',
        '{"system.used": [{"group": "collector", "name": "x", "source": "", "dated": "", "values": {"nosuch": 1}}]}',
        '{"system.used": [{"group": "nosuch", "name": "x", "values": {}}]}',
        '{"plane.on": "\\udfff"}',
        '{"site.skyline": [[1, 2]]}',
        '{"site.planes": [null]}',
        '{"demand": []}',
        '{"system": {}}',
        '{"calculation": 5}',
        '{"site.planes.0": null}',
        '{"plane": null}',
        '{"' + "a" * 500 + '": 1}',
        '{"demand.litres_per_person_day": 1e999}',
        '{"demand.litres_per_person_day": NaN}',
        '{"demand.litres_per_person_day": ' + "9" * 5000 + "}",
    )

    def test_changes(self):
        for change in self.CHANGES:
            with self.subTest(change[:60]):
                self.assertIn(self.choose(change).status_code, (200, 422))
                for part in ("collector", "store", "plane"):
                    self.assertEqual(self.client.get(self.url("scheme"), {"part": part}).status_code, 200)

    def test_numbers_of_many_digits_and_odd_letters(self):
        for name in ("use", "look", "plane", "part", "day", "m", "upload", "columns"):
            for page in ("site", "demand", "scheme", "year"):
                self.assertLess(self.client.get(self.url(page), {name: "9" * 4500}).status_code, 500, (name, page))

    def test_an_encoding_that_is_not_ours_and_a_body_that_is_too_large(self):
        for kind in ("utf-7", "nosuch", "utf-16", "latin-1"):
            form = f"application/x-www-form-urlencoded; charset={kind}"
            answer = self.client.generic(
                "POST", self.url("edit"), b"path=demand.tap_c&value=%FF+AGE-", content_type=form
            )
            self.assertEqual(answer.status_code, 415, kind)
        answer = self.client.generic("POST", self.url("edit"), b"", CONTENT_LENGTH=str(10**9))
        self.assertEqual(answer.status_code, 413)


class Quota(DeskCase):
    def test_uploads_of_a_person_are_limited_in_words(self):
        with self.settings(QUOTA=2 * len(self.year(0)) + 1000):
            answers = [
                self.client.post(self.url("weather"), {"file": SimpleUploadedFile(f"{i}.csv", self.year(i))})
                for i in range(3)
            ]
        self.assertEqual([a.status_code for a in answers], [302, 302, 422])
        self.assertContains(answers[2], "one person may keep", status_code=422)

    def test_the_same_year_is_stored_once(self):
        for name in ("a.csv", "b.csv"):
            self.client.post(self.url("weather"), {"file": SimpleUploadedFile(name, self.year(0))})
        self.assertEqual(self.project.weather_files.exclude(kind="synthetic").count(), 1)

    def year(self, number):
        lines = raw("pvgis_tmy_45N_8E.csv").decode().split("\n")
        at = next(i for i, line in enumerate(lines) if line.startswith("time(UTC)")) + 1 + number
        cells = lines[at].split(",")
        lines[at] = ",".join([cells[0], f"{float(cells[1]) + 0.5:.2f}", *cells[2:]])
        return "\n".join(lines).encode()


class TakenAway(DeskCase):
    def test_every_file_is_reported_as_what_it_is_and_as_one_to_keep(self):
        for file in [file for step in steps() for file in step.downloads if not file.file.endswith(".pdf")]:
            with self.subTest(file=file.name):
                answer = self.client.get(self.url(file.path))
                if answer.status_code == 422:  # nothing there to take yet
                    self.assertEqual(answer["Content-Type"], "text/plain; charset=utf-8")
                    continue
                self.assertEqual(answer["X-Content-Type-Options"], "nosniff")
                self.assertIn("attachment", answer["Content-Disposition"])
                self.assertNotIn("html", answer["Content-Type"])


class Statements(DeskCase):
    def test_a_key_is_a_value_and_no_statement(self):
        for key in ("a'; DELETE FROM projects_edit; --", '"', "%s %(x)s", "'') ON CONFLICT"):
            with self.subTest(key=key):
                self.assertEqual(self.edit("system.store.volume_l", str(300 + len(key)), key=key).status_code, 200)
                self.assertTrue(Done.objects.filter(author=self.user, key=key[:40]).exists())
        self.assertEqual(Edit.objects.count(), 4)
