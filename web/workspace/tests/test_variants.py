"""Designs side by side: copied, named, put away, and compared in words and numbers."""

from heat.ledger.year_book import BOUGHT
from web.editor.design_page import DesignPage
from web.editor.tests.helpers import figure, observed
from web.projects.models import Design
from web.projects.tests.helpers import DeskCase
from web.steps.scheme.facing import changes, facing_view, leaves
from web.workspace.tabs import tabs


class Variants(DeskCase):
    def do(self, what, letter="A", **more):
        url = f"/projects/{self.project.pk}/{letter}/designs"
        return self.client.post(url, {"do": what, "screen": "scheme", **more}, follow=True)

    def page(self, letter="A"):
        design = Design.objects.select_related("project__weather").get(project=self.project, letter=letter)
        return DesignPage(design, self.user)

    def change(self, letter, path, value):
        post = {"path": path, "value": value, "screen": "scheme"}
        answer = self.client.post(f"/projects/{self.project.pk}/{letter}/edit", post, headers={"HX-Request": "true"})
        self.assertEqual(answer.status_code, 200)

    def test_a_copy_is_on_its_own(self):
        page = self.do("copy")
        self.assertContains(page, "copy of roof flat plate")
        self.change("B", "system.store.volume_l", "500")
        self.assertEqual(self.page("A").document["system"]["store"]["volume_l"], 300)
        self.assertEqual(self.page("B").document["system"]["store"]["volume_l"], 500)
        self.assertEqual([d["letter"] for d in tabs(self.page())["displayed"]], ["A", "B"])
        self.change("B", "demand.people", "6")  # the survey is the project's
        self.assertEqual(self.page("A").document["demand"]["people"], 6)

    def test_named_noted_put_away_and_brought_back(self):
        self.do("copy")
        self.do("keep", "B", name="bigger tank", note="asked for on the phone")
        self.assertEqual(self.page("B").design.note, "asked for on the phone")
        self.do("keep", "B", name="  ", note="")
        self.assertEqual(self.page("B").design.name, "bigger tank")
        self.do("archive", "B")
        self.assertEqual([d["letter"] for d in tabs(self.page())["displayed"]], ["A"])
        refused = self.do("archive", "A")
        self.assertContains(refused, "only design in sight", status_code=422)
        self.do("restore", "B")
        self.assertEqual(len(tabs(self.page())["displayed"]), 2)
        self.assertEqual(self.do("explode").status_code, 404)

    def test_a_version_is_saved_with_a_note(self):
        self.change("A", "system.store.volume_l", "500")
        page = self.do("version", note="as offered by phone")
        self.assertContains(page, "as offered by phone")
        self.assertContains(page, "nothing changed since")
        self.assertEqual(self.page().versions[0].note, "as offered by phone")

    def test_a_saved_version_comes_back_as_one_edit(self):
        first = self.page().versions[0]
        self.change("A", "system.store.volume_l", "500")
        self.change("A", "plane.tilt_deg", "60")
        self.change("A", "demand.people", "7")
        self.client.post(self.url("save"), {"screen": "scheme"}, headers={"HX-Request": "true"})
        self.assertEqual(len(self.page().versions), 2)
        self.do("return", version=first.pk)
        document = self.page().document
        self.assertEqual((document["system"]["store"]["volume_l"], document["plane"]["tilt_deg"]), (300, 40))
        self.assertEqual(document["demand"]["people"], 7)  # the survey stays
        self.client.post(self.url("undo"), {"screen": "scheme"}, headers={"HX-Request": "true"})
        self.assertEqual(self.page().document["plane"]["tilt_deg"], 60)
        self.assertEqual(self.do("return", version=99999).status_code, 404)

    def test_letters_end_at_z(self):
        for _ in range(25):
            self.do("copy")
        self.assertContains(self.do("copy"), "all 26 letters are taken", status_code=422)

    def test_facing_pages_explain_the_change_account_by_account(self):
        self.do("copy")
        self.change("B", "system.loop.supply_pipe.insulation_mm", "0")
        self.change("B", "system.store.volume_l", "450")
        design_page = self.page()
        f = facing_view(observed(design_page, "against=B"))
        wanted = f["against"].year.book.total(*BOUGHT) - design_page.year.book.total(*BOUGHT)
        self.assertAlmostEqual(figure(f["change"]), wanted, delta=0.6)
        self.assertAlmostEqual(
            sum(figure(line["text"]) for line in f["lines"]), wanted, delta=0.5 * len(f["lines"]) + 4
        )
        changes = {(c["part"], c["label"]): (c["one"], c["other"]) for c in f["changes"]}
        self.assertEqual(
            changes, {("pipe to the store", "Insulation"): ("19 mm", "0 mm"), ("store", "Volume"): ("300 L", "450 L")}
        )
        page = self.client.get(f"/projects/{self.project.pk}/A/scheme?against=B")
        self.assertContains(page, "Why bought heat changes")
        self.assertContains(page, "copy of roof flat plate")
        self.assertContains(self.client.get(f"/projects/{self.project.pk}/A/scheme?against=Q"), "Account of the year")

    def test_equal_designs_differ_in_nothing(self):
        self.do("copy")
        self.assertEqual(changes(self.page(), self.page("B")), [])
        self.assertTrue(facing_view(observed(self.page(), "against=B"))["same"])
        self.assertEqual(leaves({"a": {"b": 1, "c": [1, 2]}}), {"a.b": 1, "a.c": [1, 2]})
