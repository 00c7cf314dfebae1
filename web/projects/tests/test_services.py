"""Writes and the calculation behind them, without HTTP."""

from unittest import TestCase

from babel import Locale
from django.db import IntegrityError, transaction

from heat.common.documents import value_at
from heat.design import Design as DesignDocument
from heat.design import parse
from heat.design.changing import with_changes
from heat.errors import InputError
from web.projects.local_money import local_money
from web.projects.models import Design, Edit, Version, WeatherFile
from web.projects.services.designs import save_version
from web.projects.services.edits import Conflict, change_values, previewed, step_back, step_forward
from web.projects.tests.helpers import DeskCase


class LocalMoney(TestCase):
    """Invented places in real countries: a gazetteer's words end with the country."""

    def test_a_new_project_is_paid_in_the_currency_of_its_country(self):
        names = Locale("en").territories
        for territory, code in (("PL", "PLN"), ("JP", "JPY"), ("ZA", "ZAR"), ("PT", "EUR")):
            with self.subTest(territory=territory):
                changes = local_money(f"Weirford, Merrow hills, {names[territory]}", "EUR")
                self.assertEqual(changes["money.currency"], code)
                money = parse(with_changes(DesignDocument().model_dump(mode="json"), changes)).money
                gas = next(fuel for fuel in money.fuels if fuel.name == "gas")
                self.assertAlmostEqual(gas.price_kwh / money.book_rate, 0.14, delta=0.01)
        self.assertAlmostEqual(local_money(f"Weirford, {names['JP']}", "USD")["money.book_rate"], 150)
        for unknown in ("46.4, -11.6", "Weirford, Nowhere", ""):
            self.assertEqual(local_money(unknown, "EUR"), {})


class Documents(DeskCase):
    def test_values_by_path(self):
        document = self.document()
        self.assertEqual(value_at(document, "system.store.volume_l"), 300)
        self.assertEqual(value_at(document, "demand.hour_shape.7"), 12)
        changed = with_changes(document, {"demand.hour_shape.7": 3})
        self.assertEqual((changed["demand"]["hour_shape"][7], document["demand"]["hour_shape"][7]), (3, 12))
        for path in ("system.moon", "demand.hour_shape.99", "demand.hour_shape.x", "demand.people.x"):
            with self.assertRaises(KeyError):
                value_at(document, path)


class Changing(DeskCase):
    def change(self, path, value, expected=None, **more):
        self.design = Design.objects.select_related("project").get(pk=self.design.pk)
        changes = {path: value} | {name.replace("__", "."): v for name, v in more.items()}
        return change_values(
            design=self.design,
            author=self.user,
            changes=changes,
            expected=None if expected is None else {path: expected},
        )

    def test_each_edit_is_a_row_with_before_and_after(self):
        self.change("system.store.volume_l", 400.0)
        edit = Edit.objects.get()
        self.assertEqual((edit.before, edit.after, edit.author), (300, 400, self.user))
        self.assertEqual(edit.design, self.design)
        self.change("demand.people", 5.0)
        self.assertIsNone(Edit.objects.get(place=2).design)

    def test_setting_the_same_value_writes_nothing(self):
        self.change("system.store.volume_l", 300.0)
        self.assertEqual(Edit.objects.count(), 0)

    def test_refusal_leaves_everything_as_it_was(self):
        with self.assertRaises(InputError):
            self.change("plane.tilt_deg", 200.0)
        self.assertEqual(Edit.objects.count(), 0)
        self.project.refresh_from_db()
        self.assertEqual((self.project.revision, self.project.cursor), (0, 0))

    def test_conflict_carries_the_value_that_is(self):
        self.change("system.store.volume_l", 400.0, expected=300.0)
        with self.assertRaises(Conflict) as caught:
            self.change("system.store.volume_l", 500.0, expected=300.0)
        self.assertEqual(caught.exception.current, 400)
        self.change("system.store.volume_l", 400.0, expected=300.0)
        self.assertEqual(Edit.objects.count(), 1)

    def test_several_values_are_one_edit(self):
        self.change("demand.people", 6.0, system__store__volume_l=500.0)
        self.assertEqual(Edit.objects.count(), 1)
        self.assertEqual(Edit.objects.get().before, {"demand.people": 4, "system.store.volume_l": 300})
        step_back(design=self.design, author=self.user)
        self.assertEqual(
            (self.document()["demand"]["people"], self.document()["system"]["store"]["volume_l"]), (4, 300)
        )
        step_forward(design=self.design, author=self.user)
        self.assertEqual(
            (self.document()["demand"]["people"], self.document()["system"]["store"]["volume_l"]), (6, 500)
        )

    def test_a_design_follows_the_plane_it_is_on(self):
        row = {"key": "P1", "tilt_deg": 33, "azimuth_deg": 150}
        self.change("site.planes", [row], plane__on="P1")
        self.assertEqual(self.document()["plane"]["tilt_deg"], 33)
        self.change("plane.tilt_deg", 48.0)
        self.assertEqual(Edit.objects.last().path, "site.planes.0.tilt_deg")
        self.assertEqual(self.document()["plane"]["tilt_deg"], 48)
        self.change("site.planes", [])
        self.assertEqual(self.document()["plane"]["tilt_deg"], 48)  # what it stood on last
        step_back(design=self.design, author=self.user)
        step_back(design=self.design, author=self.user)
        self.assertEqual(self.document()["plane"]["tilt_deg"], 33)

    def test_a_preview_keeps_nothing(self):
        before = self.document()
        design = Design.objects.select_related("project").get(pk=self.design.pk)
        displayed = previewed(design=design, author=self.user, changes={"demand.people": 9.0})
        self.assertEqual(displayed.document()["demand"]["people"], 9)
        self.assertEqual(self.document(), before)
        self.assertEqual(Edit.objects.count(), 0)

    def test_two_edits_cannot_take_one_place(self):
        self.change("demand.people", 5.0)
        with self.assertRaises(IntegrityError), transaction.atomic():
            Edit.objects.create(project=self.project, place=1, revision=9, path="x")

    def test_a_dropped_branch_stays_in_the_log(self):
        self.change("demand.people", 5.0)
        step_back(design=self.design, author=self.user)
        self.change("demand.people", 6.0)
        self.assertEqual(Edit.objects.filter(dropped=True).count(), 1)
        self.assertEqual(step_forward(design=self.design, author=self.user)[1], None)

    def test_walking_back_and_forth_ends_where_it_began(self):
        values = {"demand.people": 6.0, "plane.tilt_deg": 55.0, "system.tempering_valve": False}
        for path, value in values.items():
            self.change(path, value)
        full = self.document()
        for _ in values:
            step_back(design=self.design, author=self.user)
        self.assertEqual(self.document()["plane"]["tilt_deg"], 40)
        for _ in values:
            step_forward(design=self.design, author=self.user)
        self.assertEqual(self.document(), full)

    def test_weather_of_another_project_is_refused(self):
        other = WeatherFile.objects.create(
            project=self.project.__class__.objects.create(owner=self.user, name="other", survey={}),
            name="x",
            kind="x",
            data=b"",
            about={},
            checksum="x",
        )
        with self.assertRaisesRegex(InputError, "a weather file of this project"):
            self.change("weather", other.pk)


class Versions(DeskCase):
    def test_a_version_keeps_the_document_as_it_stood(self):
        self.edit("system.store.volume_l", "500")
        design = Design.objects.select_related("project").get(pk=self.design.pk)
        version = save_version(design=design, author=self.user)
        self.edit("system.store.volume_l", "700")
        self.assertEqual(Version.objects.get(pk=version.pk).document["system"]["store"]["volume_l"], 500)
        self.assertEqual(Version.objects.count(), 2)

    def test_a_project_goes_with_all_it_holds(self):
        self.user.delete()
        self.assertEqual((Version.objects.count(), WeatherFile.objects.count(), Edit.objects.count()), (0, 0, 0))
