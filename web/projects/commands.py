"""What the command line finds: every page, part and kind of a project by name."""

from django.urls import reverse

from web.projects import demand_page, site_page
from web.projects.finding import HAPPENINGS
from web.projects.kinds import KINDS
from web.projects.panels import parts_of
from web.projects.quantities import quantities
from web.projects.sheet import Sheet


def _hours(sheet: Sheet) -> list[tuple[str, str]]:
    return [(key, item.words) for key, item in quantities(sheet).items()]


def commands(sheet: Sheet) -> list[dict[str, str]]:
    """Names with where they lead: an address, or a set of values to choose."""

    def at(screen: str, query: str) -> str:
        return f"{reverse('screen', args=(sheet.project.pk, sheet.design.letter, screen))}?{query}"

    found = [
        {"text": f"Demand: {name.lower()}", "href": at("demand", f"view={key}")}
        for key, name in demand_page.VIEWS.items()
    ]
    found += [
        {"text": f"Use: {demand_page.USES[key][0].lower()}", "href": at("demand", f"view=uses&use={key}")}
        for key in demand_page.in_use(sheet.year.book.design.demand)
    ]
    found += [
        {"text": f"Site: {name.lower()}", "href": at("site", f"view={key}")} for key, name in site_page.VIEWS.items()
    ]
    found += [
        {"text": f"Plane: {plane.key} {plane.name}", "href": at("site", f"view=planes&plane={plane.key}")}
        for plane in sheet.year.book.design.site.planes
    ]
    found += [
        {"text": f"Part: {part[0].lower()}", "href": at("scheme", f"part={key}")}
        for key, part in parts_of(sheet).items()
    ]
    found += [{"text": f"Year: {words.lower()}", "href": at("year", f"q={key}")} for key, words in _hours(sheet)]
    found += [{"text": item.question, "href": at("year", f"ask={key}")} for key, item in HAPPENINGS.items()]
    found += [
        {"text": "Year: its shape, from sun to use", "href": at("year", "view=shape")},
        {"text": "Year: what mistakes cost", "href": at("year", "view=mistakes")},
        {"text": "Year: find the mistake by its readings", "href": at("year", "view=mistakes&find=1")},
        {"text": "All accounts of the year", "href": at("scheme", "view=books")},
        {"text": "Begin another design, guided", "href": at("scheme", "view=start")},
        {"text": "Catalogue", "href": reverse("catalogue")},
        {"text": "Builder’s bench: a collector from its materials", "href": reverse("builder")},
        {"text": "Standing water: bags and batch tanks", "href": reverse("standing")},
    ]
    found += [
        {"text": f"Make it a {words}", "choose": f"kind {kind}"}
        for kind, words in KINDS.items()
        if kind != sheet.year.book.design.system.kind
    ]
    return found
