"""Letters that no database holds: cleaned on their way to it, by every field and every lookup."""

from django.test import TestCase

from web.accounts.models import User
from web.projects.climates import merrow_coast
from web.projects.models import Project
from web.projects.services.designs import create_project
from web.ui.texts import cleaned, cleaned_json


class Texts(TestCase):
    def test_the_cleaner(self):
        self.assertEqual(cleaned("a\0b\ud83dc \U0001f31e"), "abc \U0001f31e")
        self.assertEqual(cleaned("abcdef", 3), "abc")
        self.assertEqual(cleaned_json({"a\0": ["\ud83d", float("inf"), 1e308]}), {"a": ["", None, 1e308]})

    def test_every_field_goes_through_it(self):
        user = User.objects.create_user("asta")
        project = create_project(owner=user, name="a\0b" + "x" * 200, place="\ud83d", weather=merrow_coast())
        Project.objects.filter(pk=project.pk).update(drafts={"m": {"a": "\0\ud83d1"}})
        stored = Project.objects.get(pk=project.pk)
        self.assertEqual((stored.name[:3], len(stored.name), stored.place), ("abx", 80, ""))
        self.assertEqual(stored.drafts, {"m": {"a": "1"}})
        self.assertFalse(Project.objects.filter(name__icontains="\0zzz\ud83d").exists())
