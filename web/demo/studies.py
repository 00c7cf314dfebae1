"""What the demo has compared: choices, maps and a band of Gannet Terrace, asked as a person would ask them."""

from web.editor.design_page import DesignPage
from web.projects.models import Project
from web.steps.weigh.choices import request_choices_of
from web.steps.weigh.maps import POINTED, SIZED, request_map_over
from web.steps.weigh.numbers import mapped
from web.steps.weigh.questions import known
from web.steps.weigh.uncertainty import request_under, usual_spreads

QUESTIONS = ("collector", "tilt", "store", "exchanger", "hours")
TIMES = ("morning", "evening")


def run_terrace_studies(project: Project) -> None:
    """Ask its runs; whoever works calculates them, and what was asked before is not asked again."""
    design = project.designs.get(letter="A")
    design.project = project
    page = DesignPage(design, project.owner)
    offers = known(page)
    offers["hours"] = (offers["hours"][0], [a for a in offers["hours"][1] if a["name"] in TIMES])
    request_choices_of(page, [offers[key] for key in QUESTIONS], list(QUESTIONS), [])
    request_under(page, usual_spreads(page))
    axes = mapped(page)
    for keys in (POINTED, SIZED):
        request_map_over(page, keys, [axes[key][1] for key in keys])
