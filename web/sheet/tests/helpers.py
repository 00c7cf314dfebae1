"""Sheets without HTTP: edits through the services, looks from an address."""

from importlib import import_module
from urllib.parse import parse_qsl

from web.projects.tests.helpers import DeskCase
from web.sheet.edits import apply_edit
from web.sheet.look import parse
from web.sheet.page import Sheet
from web.ui.units import THIN


def figure(text):
    """A printed number as a float."""
    return float(text.replace(THIN, "").replace("−", "-").replace("+", ""))


def seen(sheet, address):
    """The same design as another address shows it."""
    return sheet.looking(parse(tuple(parse_qsl(address))))


def built(sheet, key):
    """What the chosen view of a step gives its template."""
    step = import_module(f"web.steps.{key}.step").STEP
    return step.view_of(sheet).build(sheet)


class SheetCase(DeskCase):
    def sheet(self, address="", **values):
        """The design after typed edits, each taken, as an address shows it; ``__`` stands for a dot."""
        for path, value in values.items():
            made = apply_edit(self.fresh(), self.user, path.replace("__", "."), value)
            self.assertEqual((dict(made.refusals), made.note), ({}, ""), path)
        self.user.refresh_from_db()
        return seen(Sheet(self.fresh(), self.user), address)

    def page(self, key, view, asked="", **values):
        """What a view of a step gives its template after typed edits."""
        return built(self.sheet(f"view={view}&{asked}", **values), key)
