"""Two people at the same moment, and data kept by earlier versions of the application."""

from concurrent.futures import ThreadPoolExecutor
from threading import Barrier

from django.core.exceptions import PermissionDenied
from django.db import connection, connections
from django.db.migrations.executor import MigrationExecutor
from django.test import TransactionTestCase

from heat.design import Design as DesignDocument
from web.accounts.models import User
from web.projects.climates import merrow_coast
from web.projects.models import Design, Edit, Project
from web.projects.services.designs import archive_design, copy_design, create_project, describe_design, save_version
from web.projects.services.edits import Conflict, change_values, previewed, step_back
from web.projects.services.weather import add_weather, store_draft
from web.projects.tests.helpers import DeskCase


class SameMoment(TransactionTestCase):
    def setUp(self):
        self.user = User.objects.create_user("asta")
        project = create_project(owner=self.user, name="Tern Lane", place="", weather=merrow_coast())
        self.pk = project.designs.get().pk

    def fresh(self):
        return Design.objects.select_related("project").get(pk=self.pk)

    def both(self, *changes):
        """Both edits at once, each in a thread and connection of its own; what each ended with."""
        gate = Barrier(len(changes))

        def one(change):
            try:
                design = self.fresh()
                gate.wait(10)
                path, observed, value = change
                change_values(design=design, author=self.user, changes={path: value}, expected={path: observed})
            except Conflict as conflict:
                return conflict.current
            finally:
                connections.close_all()
            return "kept"

        with ThreadPoolExecutor(len(changes)) as threads:
            return list(threads.map(one, changes))

    def test_different_values_both_are_in_order(self):
        done = self.both(("system.store.volume_l", 300, 410.0), ("demand.people", 4, 7.0))
        document = self.fresh().document()
        self.assertEqual(done, ["kept", "kept"])
        self.assertEqual((document["system"]["store"]["volume_l"], document["demand"]["people"]), (410, 7))
        self.assertEqual(list(Edit.objects.values_list("place", "revision")), [(1, 1), (2, 2)])

    def test_one_value_is_stored_once_and_the_other_is_reported(self):
        done = self.both(("system.store.volume_l", 300, 410.0), ("system.store.volume_l", 300, 520.0))
        now = self.fresh().document()["system"]["store"]["volume_l"]
        self.assertEqual(sorted(map(str, done)), sorted(["kept", str(now)]))
        self.assertEqual(Edit.objects.count(), 1)


class Requested(DeskCase):
    def test_every_service_requests_who_may(self):
        other = User.objects.create_user("stranger")
        design = self.fresh()
        for act in (
            lambda: change_values(design=design, author=other, changes={"demand.people": 9.0}),
            lambda: previewed(design=design, author=other, changes={"demand.people": 9.0}),
            lambda: step_back(design=design, author=other),
            lambda: save_version(design=design, author=other),
            lambda: copy_design(design=design, author=other),
            lambda: describe_design(design=design, author=other, name="mine", note=""),
            lambda: archive_design(design=design, author=other, archived=True),
            lambda: add_weather(project=self.project, author=other, weather=merrow_coast()),
            lambda: store_draft(project=self.project, author=other, name="means", values={}),
        ):
            self.assertRaises(PermissionDenied, act)
        self.assertEqual((self.fresh().name, Edit.objects.count()), ("roof flat plate", 0))


class OddEdits(DeskCase):
    """Edits that came in with a file may hold anything: undoing them spoils no design."""

    def test_what_no_design_holds_is_not_put_back(self):
        for before in ("x", None, {}, -4.0, [1]):
            design = change_values(design=self.fresh(), author=self.user, changes={"system.store.volume_l": 410.0})
            Edit.objects.filter(project=self.project, dropped=False).update(before=before)
            answer = self.post("undo")
            self.assertContains(answer, "Not done", status_code=422)
            self.assertEqual(self.document()["system"]["store"]["volume_l"], 410)
            Edit.objects.filter(project=self.project).update(before=300.0)
            self.assertEqual(self.post("undo").status_code, 200)
            self.assertEqual(design.letter, "A")
        for path in ("system.nowhere.at_all", "site.trees.7.altitude_deg", "", "demand"):
            change_values(design=self.fresh(), author=self.user, changes={"system.store.volume_l": 420.0})
            Edit.objects.filter(project=self.project, dropped=False).update(path=path, before={"system.store.9": "y"})
            self.assertLess(self.post("undo").status_code, 500)
            Edit.objects.filter(project=self.project, dropped=False).update(path="system.store.volume_l", before=300.0)
            self.post("undo")


class EveryMigration(TransactionTestCase):
    """What the first version kept is read by this one, through every migration."""

    def migrate(self, name):
        executor = MigrationExecutor(connection)
        executor.migrate([("projects", name)])
        return MigrationExecutor(connection).loader.project_state([("projects", name)]).apps

    def tearDown(self):
        executor = MigrationExecutor(connection)
        executor.migrate(executor.loader.graph.leaf_nodes())

    def test_stored_data_comes_through(self):
        whole = DesignDocument().model_dump(mode="json")
        system = {name: value for name, value in whole["system"].items() if name not in ("faults", "used")}
        system["mistakes"] = whole["system"]["faults"]
        owner = User.objects.create_user("asta")
        old = self.migrate("0001_initial")
        project = old.get_model("projects", "Project").objects.create(
            owner_id=owner.pk, name="Tern Lane", survey={"demand": {"people": 6}, "site": whole["site"]}
        )
        scheme = {"plane": whole["plane"], "system": system, "reckoning": whole["numerics"]}
        design = old.get_model("projects", "Design").objects.create(
            project=project, letter="A", name="first", scheme=scheme
        )
        edit = lambda place, path, before, after: old.get_model("projects", "Edit").objects.create(
            project=project, design=design, place=place, revision=place, path=path, before=before, after=after
        )
        edit(1, "reckoning.layers", 20, 24)
        edit(2, "", {"site.mains.source": "reckoned", "system.mistakes.soiling": 0}, {"site.mains.source": "wave"})
        executor = MigrationExecutor(connection)
        executor.migrate(executor.loader.graph.leaf_nodes())
        one, more = Edit.objects.order_by("place")
        self.assertEqual((one.path, one.before, one.after), ("numerics.layers", 20, 24))
        self.assertEqual(more.before, {"site.mains.source": "calculated", "system.faults.soiling": 0})
        read = Design.objects.select_related("project").get(pk=design.pk).document()
        self.assertEqual((read["demand"]["people"], read["demand"]["tap_c"]), (6, whole["demand"]["tap_c"]))
        self.assertEqual(read["system"]["faults"], whole["system"]["faults"])
        self.assertEqual(Project.objects.get().name, "Tern Lane")
