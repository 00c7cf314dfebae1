"""The desk over HTTP: edits, refusals, two tabs, undo, versions, units, ownership, weather."""

import re
from unittest.mock import patch

from django.test import TestCase

from web.accounts.models import User
from web.projects.models import Design, Project
from web.projects.tests.helpers import HTMX, DeskCase
from web.simulations.cache import small_figures, years
from web.simulations.tallies import known
from web.workspace import views
from web.workspace.registry import steps


class Editing(DeskCase):
    def test_a_new_project_is_complete_and_simulated(self):
        for screen in ("demand", "site", "scheme"):
            page = self.client.get(self.url(screen))
            self.assertContains(page, "Tally, design A")
        self.assertContains(page, "8,760 of 8,760".replace(",", "\u202f"))

    def test_an_edit_is_stored_and_the_year_re_inked(self):
        before = self.client.get(self.url("scheme")).content
        answer = self.edit("system.collector.area_m2", "3.1")
        self.assertEqual(answer.status_code, 200)
        self.assertEqual(self.document()["system"]["collector"]["area_m2"], 3.1)
        self.assertContains(answer, "better")
        self.assertNotEqual(before, answer.content)
        self.assertNotContains(answer, "<html")

    def test_every_screen_answers_an_edit_with_itself(self):
        answer = self.edit("demand.people", "6", screen="demand")
        self.assertContains(answer, "Uses of heat")
        self.assertContains(self.edit("plane.tilt_deg", "50", screen="site"), "What the place brings")

    def test_comma_and_spaces_are_numbers_too(self):
        self.edit("system.store.volume_l", "1 250,5")
        self.assertEqual(self.document()["system"]["store"]["volume_l"], 1250.5)

    def test_choices_switches_and_empty_optional_values(self):
        self.edit("numerics.sky", "isotropic")
        self.edit("system.tempering_valve", "0")
        self.edit("system.loop.supply_pipe.loss_w_k", "3")
        document = self.document()
        self.assertEqual(document["numerics"]["sky"], "isotropic")
        self.assertFalse(document["system"]["tempering_valve"])
        self.assertEqual(document["system"]["loop"]["supply_pipe"]["loss_w_k"], 3.0)
        self.edit("system.loop.supply_pipe.loss_w_k", "")
        self.assertIsNone(self.document()["system"]["loop"]["supply_pipe"]["loss_w_k"])

    def test_the_shape_of_the_day(self):
        shape = " ".join(["0"] * 18 + ["5"] * 6)
        self.assertEqual(self.edit("demand.hour_shape", shape, screen="demand").status_code, 200)
        self.assertEqual(sum(self.document()["demand"]["hour_shape"]), 30)

    def test_steps_down_and_up(self):
        for part in ("store", "collector", "control", "tankless", "element"):
            answer = self.client.get(self.url(f"steps?part={part}"), headers=HTMX)
            self.assertContains(answer, "points", count=2)

    def test_steps_wait_while_others_edit(self):
        with views.edits.mine():
            answer = self.client.get(self.url("steps?part=store"), headers=HTMX)
            self.assertEqual((answer.status_code, answer["Retry-After"]), (204, "1"))
        with views.AT_REST:
            self.assertEqual(self.client.get(self.url("steps?part=store"), headers=HTMX).status_code, 204)
        self.assertContains(self.client.get(self.url("steps?part=store"), headers=HTMX), "points", count=2)

    def test_an_edit_keeps_the_figures_that_other_pages_show(self):
        self.edit("system.store.volume_l", "310")
        design = self.project.designs.get(letter="A")
        design.project = self.project
        self.project.refresh_from_db()
        displayed = re.search(r'aria-current="true".*?(\d+\.\d) %', self.client.get(self.url("scheme")).text, re.DOTALL)
        self.assertAlmostEqual(100 * known(design).fraction, float(displayed[1]), delta=0.051)

    def test_what_it_was_saved_with_is_simulated_once_for_all_workers(self):
        words = "as saved"
        self.assertContains(self.client.get(self.url("scheme")), words)
        years.made.clear(), small_figures.made.clear()
        with patch("web.simulations.tallies.simulate_uncached", side_effect=AssertionError):
            self.assertContains(self.client.get(self.url("scheme")), words)
        self.edit("system.store.volume_l", "150")
        self.post("designs", act="version", note="smaller")
        self.assertContains(self.client.get(self.url("scheme")), words)
        self.edit("system.store.volume_l", "300")
        self.assertContains(self.client.get(self.url("scheme")), "better")

    def test_figures_stored_by_another_version_are_made_anew(self):
        displayed = re.findall(r"\d+\.\d %", self.client.get(self.url("scheme")).text)
        odd = {"key": "of another", "sunny": 1.0, "base": {"key": "of another", "fraction": 0.1, "gone": 2}}
        Design.objects.filter(pk=self.design.pk).update(figures=odd)
        self.assertEqual(re.findall(r"\d+\.\d %", self.client.get(self.url("scheme")).text), displayed)
        stored = Design.objects.get(pk=self.design.pk).figures
        self.assertNotIn("sunny", stored)
        self.assertNotIn("gone", stored["base"])
        with patch("web.simulations.tallies.SHAPE", "other names"):
            self.assertIsNone(known(self.fresh()))

    def test_hours_and_parts_by_address(self):
        page = self.client.get(self.url("scheme?day=200&hour=15&part=control"))
        self.assertContains(page, "drawn at 20 Jul, 15 h")
        self.assertContains(page, "Store sensor, height (0 bottom, 1 top)")
        self.assertEqual(self.client.get(self.url("scheme?day=x&hour=99&part=moon")).status_code, 200)
        self.assertEqual(self.client.get(self.url("moon")).status_code, 404)


class Refusing(DeskCase):
    def refused(self, path, value, words, **more):
        answer = self.edit(path, value, **more)
        self.assertContains(answer, words, status_code=422)
        self.assertContains(answer, f'value="{value}"' if value else 'aria-invalid="true"', status_code=422)
        self.assertEqual(self.project.edits.count(), 0)
        return answer

    def test_tilt_of_200(self):
        answer = self.refused("plane.tilt_deg", "200", "Allowed: 0 to 90 °.")
        self.assertContains(answer, "last good year", status_code=422)

    def test_empty_field(self):
        self.refused("system.store.volume_l", "", "A number is needed here; the old value still stands.")

    def test_store_of_nothing(self):
        self.refused("system.store.volume_l", "0", "Allowed: 5 to 100000 L.")

    def test_words_where_a_number_should_be(self):
        self.refused("system.store.volume_l", "lots", "“lots” is not a number")
        self.refused("system.store.volume_l", "nan", "is not a number")
        for text in ("6,500", "6.500"):
            answer = self.refused("system.store.volume_l", text, "can be read as 6.5 or as 6500: which is it?")
            self.assertContains(answer, "6500 L</button>", status_code=422)
        for text in ("1,500", "1.500"):  # a store of 1.5 L there is not
            self.assertEqual(self.edit("system.store.volume_l", text).status_code, 200)
            self.assertEqual(self.fresh().document()["system"]["store"]["volume_l"], 1500.0)
        self.edit("system.collector.a1_w_m2k", "3.125")
        self.assertEqual(self.fresh().document()["system"]["collector"]["a1_w_m2k"], 3.125)

    def test_half_a_collector(self):
        self.refused("system.collector.count", "2.5", "A whole number is needed here.")

    def test_contradictions(self):
        self.refused("system.control.off_k", "9", "The pump must stop at a smaller difference")
        answer = self.edit("demand.hour_shape", " ".join(["0"] * 24), screen="demand")
        self.assertContains(answer, "Some hour of the day must draw water", status_code=422)
        answer = self.edit("demand.hour_shape", "1 2 3", screen="demand")
        self.assertContains(answer, "You typed: 1 2 3", status_code=422)

    def test_refusal_speaks_the_readers_units(self):
        self.user.units = "us"
        self.user.save()
        self.refused("system.store.volume_l", "1", "1.3 to 26417 gal")

    def test_unknown_path(self):
        answer = self.edit("system.moon", "1")
        self.assertContains(answer, "There is no value called", status_code=422)


class TwoTabs(DeskCase):
    def test_the_same_value_is_not_overwritten_silently(self):
        self.edit("system.store.volume_l", "400", expected="300.0", revision="0")
        answer = self.edit("system.store.volume_l", "500", expected="300.0", revision="0")
        self.assertContains(answer, "In another tab this became 400 L; you typed 500.", status_code=422)
        self.assertContains(answer, 'value="500"', status_code=422)
        self.assertEqual(self.document()["system"]["store"]["volume_l"], 400)
        self.edit("system.store.volume_l", "500", expected="300.0", force="1")
        self.assertEqual(self.document()["system"]["store"]["volume_l"], 500)

    def test_different_values_both_are_and_it_states_so(self):
        self.edit("demand.people", "5")
        self.edit("system.store.volume_l", "400")
        answer = self.edit("system.coil.ua_w_k", "500", expected="350.0", revision="1")
        self.assertContains(answer, "Also changed in another tab: Volume. Both edits stand.")
        document = self.document()
        self.assertEqual((document["system"]["store"]["volume_l"], document["system"]["coil"]["ua_w_k"]), (400, 500))


class UndoRedo(DeskCase):
    def step(self, which):
        return self.client.post(self.url(which), {"screen": "scheme"}, headers=HTMX)

    def test_back_forward_and_a_new_branch(self):
        self.edit("system.store.volume_l", "400")
        self.edit("demand.people", "7")
        self.step("undo")
        self.assertEqual(self.document()["demand"]["people"], 4)
        self.step("undo")
        self.assertEqual(self.document()["system"]["store"]["volume_l"], 300)
        self.assertContains(self.step("undo"), "Nothing to undo.")
        self.step("redo")
        self.assertEqual(self.document()["system"]["store"]["volume_l"], 400)
        self.edit("system.store.volume_l", "600")
        self.assertContains(self.step("redo"), "Nothing to redo.")
        self.step("undo")
        self.assertEqual(self.document()["system"]["store"]["volume_l"], 400)

    def test_saving_moves_the_base_of_the_tally(self):
        self.edit("system.collector.count", "4")
        self.assertContains(self.client.get(self.url("scheme")), "1 edit since")
        answer = self.client.post(self.url("save"), {"screen": "scheme"}, headers=HTMX)
        self.assertContains(answer, "nothing changed since")
        self.assertContains(answer, "as saved")


class Units(DeskCase):
    def test_us_units_everywhere_and_the_core_stays_si(self):
        self.client.post("/units", {"units": "us", "back": self.url("scheme")})
        page = self.client.get(self.url("scheme"))
        for text in ("79", "kBtu", "ft²", "gal", "°F", "Btu/h °F"):
            self.assertContains(page, text)
        self.edit("system.store.volume_l", "100")
        self.assertAlmostEqual(self.document()["system"]["store"]["volume_l"], 378.541, places=3)
        self.edit("demand.tap_c", "120")
        self.assertAlmostEqual(self.document()["demand"]["tap_c"], 48.889, places=3)
        self.edit("system.control.on_k", "18")
        self.assertAlmostEqual(self.document()["system"]["control"]["on_k"], 10.0)

    def test_a_foreign_way_back_is_refused(self):
        answer = self.client.post("/units", {"units": "si", "back": "http://elsewhere.invalid/"})
        self.assertRedirects(answer, "/")


class Account(TestCase):
    def test_join_then_first_project(self):
        answer = self.client.post(
            "/join", {"username": "eda", "password1": "tidal-lantern-4", "password2": "tidal-lantern-4"}
        )
        self.assertRedirects(answer, "/")
        answer = self.client.post("/projects/new", {"name": "First", "place": ""}, follow=True)
        self.assertContains(answer, "Uses of heat")
        self.assertContains(self.client.post("/projects/new", {"name": "x" * 81}), "at most 80", status_code=422)

    def test_the_account_settles_how_numbers_are_written(self):
        user = User.objects.create_user("eda", password="tidal-lantern-4")
        self.client.force_login(user)
        self.client.post("/projects/new", {"name": "Weir cottage"})
        project = Project.objects.get(name="Weir cottage")
        form = {"path": "system.store.volume_l", "value": "6,500", "screen": "scheme"}
        volume = lambda: Design.objects.get(project=project).scheme["system"]["store"]["volume_l"]
        requested = self.client.post(f"/projects/{project.pk}/A/edit", form, headers=HTMX)
        self.assertContains(requested, "Your account can settle it", status_code=422)
        self.client.post("/account", {"units": "si", "decimals": "point", "do": "keep"})
        self.client.post(f"/projects/{project.pk}/A/edit", form, headers=HTMX)
        self.assertEqual(volume(), 6500)
        self.client.post("/account", {"units": "si", "decimals": "comma", "do": "keep"})
        self.client.post(f"/projects/{project.pk}/A/edit", form | {"value": "2.345,5"}, headers=HTMX)
        self.assertEqual(volume(), 2345.5)
        self.assertContains(
            self.client.post("/account", {"units": "si", "decimals": "odd", "do": "keep"}), "valid", status_code=422
        )

    def test_who_writes_decimal_commas_reads_them_in_every_table(self):
        user = User.objects.create_user("komma", password="Merrow-Tide-44", decimals="comma")
        self.client.force_login(user)
        self.client.post("/projects/new", {"name": "Weir cottage"})
        address = f"/projects/{Project.objects.get(name='Weir cottage').pk}/A/"
        with_commas = 0
        for step in steps():
            for view in step.views:
                page = self.client.get(f"{address}{step.key}?view={view.key}").content.decode()
                cells = [
                    re.sub(r"<[^>]+>", "", cell) for cell in re.findall(r"<td[^>]*num[^>]*>(.*?)</td>", page, re.S)
                ]
                self.assertEqual([cell for cell in cells if re.search(r"\d\.\d", cell)], [], (step.key, view.key))
                with_commas += sum(bool(re.search(r"\d,\d", cell)) for cell in cells)
        self.assertGreater(with_commas, 50)

    def test_weak_password(self):
        answer = self.client.post("/join", {"username": "eda", "password1": "short", "password2": "short"})
        self.assertContains(answer, "too short", status_code=422)

    def test_strict_policy_and_health(self):
        answer = self.client.get("/sign-in")
        policy = answer.headers["Content-Security-Policy"]
        self.assertIn("default-src 'none'", policy)
        self.assertNotIn("unsafe", policy)
        self.assertEqual(self.client.get("/health").content, b"red-ledger")
        self.assertEqual(self.client.get("/nowhere").status_code, 404)
