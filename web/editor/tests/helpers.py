"""Sheets without HTTP: edits through the services, looks from an address."""

from importlib import import_module
from urllib.parse import parse_qsl

from web.editor.design_page import DesignPage
from web.editor.edits import ValueEdit, apply_edit
from web.editor.view_state import parse
from web.projects.tests.helpers import DeskCase
from web.ui.units import THIN


def figure(text):
    """A printed number as a float."""
    return float(text.replace(THIN, "").replace("−", "-").replace("+", ""))


def observed(page, address):
    """The same design as another address shows it."""
    return page.with_state(parse(tuple(parse_qsl(address))))


def built(page, key):
    """What the chosen view of a step gives its template."""
    step = import_module(f"web.steps.{key}.step").STEP
    return step.view_of(page).build(page)


class DesignPageCase(DeskCase):
    def page(self, address="", **values):
        """The design after typed edits, each taken, as an address shows it; ``__`` stands for a dot."""
        for path, value in values.items():
            made = apply_edit(DesignPage(self.fresh(), self.user), ValueEdit(path.replace("__", "."), value))
            self.assertEqual((dict(made.refusals), made.note), ({}, ""), path)
        self.user.refresh_from_db()
        return observed(DesignPage(self.fresh(), self.user), address)

    def context_of(self, key, view, requested="", **values):
        """What a view of a step gives its template after typed edits."""
        return built(self.page(f"view={view}&{requested}", **values), key)
