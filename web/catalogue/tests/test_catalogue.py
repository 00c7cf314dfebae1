"""The catalogue's pages: own entries by hand and by table, the bench, standing water; and what others may not see."""

from django.core.files.uploadedfile import SimpleUploadedFile

from web.accounts.models import User
from web.catalogue.bench import bench_page
from web.catalogue.models import OwnEntry
from web.catalogue.services import entry_of, in_sight
from web.projects.tests.helpers import DeskCase

FILLED = {
    "name": "Shed roof plate",
    "area_m2": "2,1",
    "area_basis": "absorber",
    "gross_area_m2": "2.4",
    "eta0": "0.7",
    "a1_w_m2k": "5.5",
    "a2_w_m2k2": "0.02",
    "a5_kj_m2k": "8",
    "iam": "b0",
    "iam_b0": "0.14",
    "iam_diffuse": "0.88",
    "rating": "mean",
    "source": "own test",
}


class Entries(DeskCase):
    def save(self, group="collector", **values):
        return self.client.post(f"/catalogue/{group}/save", {**FILLED, **values})

    def test_every_group_is_displayed_and_downloads_as_it_is_read(self):
        page = self.client.get("/catalogue/")
        self.assertContains(page, "Evacuated tubes, heat pipe")
        for group in ("store", "coil", "plate", "jacket", "draw_coil", "pipe", "insulation", "pump", "fluid", "heater"):
            self.assertContains(self.client.get(f"/catalogue/?group={group}"), "An entry of your own")
        table = self.client.get("/catalogue/store.csv").content.decode()
        self.client.post("/catalogue/store/table", {"text": table})
        self.assertEqual(OwnEntry.objects.filter(group="store").count(), 7)
        self.assertEqual(self.client.get("/catalogue/?group=gold").status_code, 404)
        self.assertEqual(self.client.get("/catalogue/?entry=gold").status_code, 404)

    def test_one_by_hand_changed_put_away_and_brought_back(self):
        self.assertEqual(self.save().status_code, 302)
        stored = OwnEntry.objects.get()
        self.assertEqual((stored.values["area_m2"], stored.values["area_basis"]), (2.1, "absorber"))
        self.assertRegex(stored.dated, r"^\d{4}-\d\d-\d\d$")
        self.assertContains(self.client.get(f"/catalogue/?entry=own_{stored.pk}"), "Change Shed roof plate")
        self.save(pk=str(stored.pk), eta0="0.72")
        self.assertEqual(OwnEntry.objects.get().values["eta0"], 0.72)
        self.client.post("/catalogue/collector/away", {"pk": stored.pk})
        self.assertNotIn("Shed roof plate", [e.name for e in in_sight(self.user, "collector")])
        self.client.post("/catalogue/collector/away", {"pk": stored.pk, "do": "back"})
        self.assertEqual(in_sight(self.user, "collector")[0].name, "Shed roof plate")

    def test_a_refused_value_leaves_the_rest_as_typed(self):
        answer = self.save(eta0="1.7", source="from the shed")
        self.assertContains(answer, "0.1 to 0.95", status_code=422)
        self.assertContains(answer, "from the shed", status_code=422)
        self.assertContains(self.save(eta0="much"), "is not a number", status_code=422)
        self.assertContains(self.save(name=" "), "A name is needed", status_code=422)
        self.assertContains(
            self.save("coil", ua_w_k="300", bottom_share="0.6", top_share="0.3"), "above the lower end", status_code=422
        )
        self.assertFalse(OwnEntry.objects.exists())

    def test_values_not_touched_keep_every_digit_in_other_units(self):
        self.save(area_m2="2.137")
        stored = OwnEntry.objects.get()
        self.user.units = "us"
        self.user.save()
        page = self.client.get(f"/catalogue/?entry=own_{stored.pk}")
        self.assertContains(page, "ft²")
        from heat.catalogue import GROUPS
        from web.ui.blanks import blank

        part = GROUPS["collector"].part
        sent = {n: blank(part, n, v, "us").text for n, v in stored.values.items()}
        self.client.post("/catalogue/collector/save", {**sent, "name": "renamed", "pk": stored.pk})
        changed = OwnEntry.objects.get()
        self.assertEqual((changed.name, changed.values["area_m2"]), ("renamed", 2.137))

    def test_a_table_keeps_the_good_and_hands_back_the_bad(self):
        file = SimpleUploadedFile("mine.csv", "name;eta0;a1_w_m2k\ngut;0,8;3,5\nböse;1,8;2\n".encode("cp1252"))
        answer = self.client.post("/catalogue/collector/table", {"file": file})
        self.assertContains(answer, "Line 3: eta0", status_code=422)
        self.assertContains(answer, "böse;1,8;2", status_code=422)
        self.assertEqual([e.name for e in OwnEntry.objects.all()], ["gut"])
        for raw in (b"\x89PNG\0\0\0\0", b"x" * 300_000, b"", b"one,two\n1,2\n"):
            answer = self.client.post("/catalogue/coil/table", {"file": SimpleUploadedFile("t.csv", raw)})
            self.assertContains(answer, "problem", status_code=422)

    def test_a_stranger_sees_and_changes_none_of_it(self):
        self.save()
        stored = OwnEntry.objects.get()
        stranger = User.objects.create_user("stranger", password="quiet-harbour-9")
        with self.assertRaises(KeyError):
            entry_of(stranger, "collector", f"own_{stored.pk}")
        self.client.force_login(stranger)
        self.assertNotContains(self.client.get("/catalogue/"), "Shed roof plate")
        self.assertEqual(self.client.get(f"/catalogue/?entry=own_{stored.pk}").status_code, 404)
        self.assertEqual(self.save(pk=str(stored.pk)).status_code, 404)
        self.assertEqual(self.client.post("/catalogue/collector/away", {"pk": stored.pk}).status_code, 404)
        self.assertNotContains(self.client.get("/catalogue/collector.csv"), "Shed roof plate")
        for key in ("own_", "own_²", "own_99999999999999999999", "own_-1"):
            with self.assertRaises(KeyError):
                entry_of(self.user, "collector", key)


class Bench(DeskCase):
    def test_a_value_changes_the_rating_and_a_wrong_one_is_reported(self):
        usual, better = (bench_page(q, self.user) for q in ({}, {"area_m2": "2", "emittance": "0.05", "tubes": "9"}))
        self.assertLess(better["built"].a1_w_m2k, usual["built"].a1_w_m2k)
        self.assertGreater(better["built"].stagnation_c, usual["built"].stagnation_c)
        for query, words in (
            ({"emittance": "3"}, "0.02 to 1"),
            ({"tube_inner_mm": "20"}, "less than the outer"),
            ({"plate_mm": "thin"}, "not a number"),
        ):
            page = self.client.get("/catalogue/builder", query)
            self.assertContains(page, words)
            self.assertContains(page, "What it is rated at")

    def test_what_is_built_becomes_an_entry_and_a_design_can_take_it(self):
        self.client.post("/catalogue/builder/keep", {"area_m2": "1.9", "emittance": "0.1", "name": "Selective sheet"})
        stored = OwnEntry.objects.get()
        self.assertEqual((stored.values["area_basis"], stored.values["area_m2"]), ("absorber", 1.9))
        answer = self.client.post(
            self.url("choose"),
            {"preset": f"entry collector own_{stored.pk}", "screen": "scheme"},
            headers={"HX-Request": "true"},
        )
        self.assertEqual(answer.status_code, 200)
        self.assertAlmostEqual(self.document()["system"]["collector"]["eta0"], stored.values["eta0"])
        stored.values["eta0"] = 0.2
        stored.save()
        self.assertNotEqual(self.document()["system"]["collector"]["eta0"], 0.2)  # finished work stays
        self.assertContains(self.client.get(self.url("scheme?part=collector")), "from Selective sheet")
        self.assertContains(
            self.client.post("/catalogue/builder/keep", {"name": ""}), "A name is needed", status_code=422
        )

    def test_standing_water_in_a_projects_climate(self):
        page = self.client.get("/catalogue/standing", {"kind": "batch_tank", "blanket": "1", "month": "Oct"})
        self.assertContains(page, "means of Oct")
        self.assertContains(page, "Warmest at dawn")
        self.user.units = "us"
        self.user.save()
        self.assertContains(self.client.get("/catalogue/standing"), "gal/ft²")
        self.assertEqual(self.client.get("/catalogue/standing", {"tilt": "steep", "project": "x"}).status_code, 200)
