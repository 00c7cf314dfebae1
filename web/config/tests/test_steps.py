"""Every step of the application; and a made-up one, added by one folder and one name."""

from django.conf import settings
from django.core.exceptions import ImproperlyConfigured
from django.test import SimpleTestCase, override_settings

from web.config.tests import sweep
from web.editor.tests.helpers import DesignPageCase
from web.presentation.kinds import KINDS
from web.projects.tests.helpers import HTMX
from web.workspace.registry import chosen, commands, steps

NOTES = "web.config.tests.notes"
with_notes = override_settings(
    STEPS=(*settings.STEPS, NOTES),
    INSTALLED_APPS=[*settings.INSTALLED_APPS, NOTES],
    ROOT_URLCONF="web.config.tests.notes_urls",
)


class EveryStep(sweep.StepSweep):
    def test_unknown_steps_are_not_found(self):
        self.assertEqual(self.client.get(self.url("moon")).status_code, 404)


class EveryStepInTheBrowser(sweep.StepAxe):
    pass


@with_notes
class NotesStep(sweep.StepSweep):
    keys = ("notes",)

    def test_it_is_last_and_brings_its_own(self):
        self.assertEqual([step.key for step in steps()][-1], "notes")
        self.assertContains(self.client.get(self.url("notes")), "Nothing is noted yet.")
        self.post("note", screen="notes", text="ladder needed")
        self.assertContains(self.client.get(self.url("notes")), "ladder needed")
        self.assertEqual(self.client.get(self.url("notes.csv")).content, b"ladder needed")
        self.assertContains(self.client.get(self.url("find?q=notes")), "Notes of this design")


@with_notes
class NotesStepInTheBrowser(sweep.StepAxe):
    keys = ("notes",)

    def test_a_field_a_list_and_a_later_piece_without_a_script(self):
        self.open_scheme()
        self.page.goto(self.page.url.rpartition("/")[0] + "/notes")
        self.page.wait_for_selector("text=people are known by now")
        people = self.page.locator("[data-path='demand.people']")
        people.fill("5")
        self.updated(lambda: people.press("Enter"))
        self.page.wait_for_selector("text=5 people are known by now")
        self.updated(lambda: self.page.click("text=add a tree"))
        trees = self.page.locator("button:has-text('take it away')")
        count = trees.count()
        self.updated(lambda: trees.last.click())
        self.assertEqual(trees.count(), count - 1)
        self.page.fill("main [name=text]", "ladder needed")
        self.page.keyboard.press("Enter")
        self.page.wait_for_selector("p:has-text('ladder needed')")
        self.updated(lambda: self.page.keyboard.press("Control+z"))


class Registry(SimpleTestCase):
    def test_two_steps_cannot_share_a_key(self):
        with override_settings(STEPS=("web.steps.site", "web.steps.site")):
            self.assertRaisesMessage(ImproperlyConfigured, "Two steps share", steps)
        self.assertEqual(len(steps()), len(settings.STEPS))

    def test_unknown_choices_are_refused(self):
        for name in ("", "sauna", "entry", "entry gold x", "switch sail", "kind", "floor heating"):
            with self.assertRaises(KeyError):
                chosen({}, name, None)


class CommandLine(DesignPageCase):
    def test_every_command_leads_somewhere(self):
        self.client.post(self.url("rows"), {"path": "site.planes", "preset": "roof", "screen": "site"}, headers=HTMX)
        found = commands(self.page())
        texts = [c.text for c in found]
        self.assertEqual(len(set(texts)), len(texts))
        for wanted in (
            "Demand: cut first",
            "Use: hot water",
            "Site: horizon",
            "Plane: P1 roof face",
            "Part: coil",
            "Make it a drainback",
        ):
            self.assertIn(wanted, texts)
        for command in found:
            if command.href:
                self.assertEqual(self.client.get(command.href).status_code, 200, command.text)
            else:
                self.assertIn(command.choose.removeprefix("kind "), KINDS)
