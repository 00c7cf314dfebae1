"""What the demo has weighed: choices, maps and a band of Gannet Terrace, asked as a person would ask them."""

from web.projects.models import Project
from web.sheet.page import Sheet
from web.steps.weigh.asked import known
from web.steps.weigh.choices import ask_of
from web.steps.weigh.maps import POINTED, SIZED, ask_over
from web.steps.weigh.numbers import mapped
from web.steps.weigh.sure import ask_under, usual_spreads

QUESTIONS = ("collector", "tilt", "store", "exchanger", "hours")
TIMES = ("morning", "evening")


def weigh_terrace(project: Project) -> None:
    """Ask its runs; whoever works reckons them, and what was asked before is not asked again."""
    design = project.designs.get(letter="A")
    design.project = project
    sheet = Sheet(design, project.owner)
    offers = known(sheet)
    offers["hours"] = (offers["hours"][0], [a for a in offers["hours"][1] if a["name"] in TIMES])
    ask_of(sheet, [offers[key] for key in QUESTIONS], list(QUESTIONS), [])
    ask_under(sheet, usual_spreads(sheet))
    axes = mapped(sheet)
    for keys in (POINTED, SIZED):
        ask_over(sheet, keys, [axes[key][1] for key in keys])
