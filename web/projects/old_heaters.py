"""The house without solar: one for all designs of a project."""

from heat.design import parse
from heat.design.money import Old
from heat.economics.tariff import old_heaters
from heat.errors import HeatError
from web.projects.models import Design


def first_design(design: Design) -> Design:
    """The design whose heaters are taken for the old ones where the project says nothing: its first by letter."""
    if design.letter == "A":
        return design
    first = design.project.designs.order_by("letter").first()
    return design if first is None or first.letter == design.letter else first


def old_heaters_of(design: Design) -> Old:
    """The heaters of taps and rooms without solar: as the project describes them, else as its first design has them.
    Raises HeatError."""
    first = first_design(design)
    if first is not design:
        first.project = design.project  # the survey as it is now, unsaved edits in it
        try:
            return old_heaters(parse(first.document()))
        except HeatError:  # a first design that cannot be read describes no house
            first = design
    return old_heaters(parse(first.document()))
