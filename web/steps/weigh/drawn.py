"""A map as it is drawn: its lines, the area near the best, the rules of thumb, the limit, and what "
"it comes to in words."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from heat.studies.maps import MapField, Peak, contours, field, levels, peak, reach, refined, surface
from heat.studies.outcome import COLUMN, Outcomes
from web.editor.design_page import DesignPage
from web.jobs.models import Run
from web.jobs.purposes import places_of
from web.jobs.services import fits, progress
from web.steps.weigh.economics import answered, row_now
from web.steps.weigh.guidelines import marks_of, rays_of
from web.steps.weigh.plot import Plot, hatched, lines_of
from web.steps.weigh.rows import ComparisonLine
from web.ui import units
from web.ui.rows import Row

HOT_H = 100.0
"""Hours of stagnation a year beyond which a map warns, where nothing else is typed. Our own choice."""
NEAR = {"fraction": 1.0, "dark": 1.0}
"""What counts as near the best where it is not two in a hundred of the range: a point of a fraction (%)."""


def sign_of(page: DesignPage, line: ComparisonLine) -> str:
    """The unit a line is shown in."""
    return str(page.project.currency) if line.sign == "money" else page.sign(line.quantity)


@dataclass(frozen=True)
class Drawn:
    """The map of a run: one line of the comparison over the plot's two numbers, as far as its years are done."""

    page: DesignPage
    run: Run
    line: ComparisonLine
    plot: Plot

    @cached_property
    def years(self) -> Outcomes:
        """Every year that is done."""
        return answered(self.page, self.run)

    def field(self, figure: str, times: float = 1.0) -> MapField | None:
        """An outcome over the map: whole where every year is done, else the coarse one; None before that."""
        places, first = places_of(self.run.question)
        done = progress(self.run).done
        if done < first:
            return None
        return field(places, times * self.years[figure], len(places) if done >= len(places) else first)

    def show(self, value: float) -> str:
        """A value of the line in the reader's units."""
        return self.page.show(value, self.line.quantity, self.line.decimals)

    @property
    def sign(self) -> str:
        """The unit of the line."""
        return sign_of(self.page, self.line)

    @property
    def most(self) -> bool:
        """Whether more of it is better."""
        return self.line.better == "most"

    @cached_property
    def now(self) -> float:
        """What the design as drawn has of it."""
        return float(self.line.times * row_now(self.page)[COLUMN[self.line.figure]])

    def levels(self, smooth: MapField) -> list[float]:
        """Values of the lines, round in the reader's units."""
        convert = lambda v: units.to_display(float(v), self.line.quantity, self.page.system)
        ends = np.array([convert(np.nanmin(smooth.values)), convert(np.nanmax(smooth.values))])
        return [units.to_core(v, self.line.quantity, self.page.system) for v in levels(ends)]

    def level_words(self, payload: list[float]) -> Callable[[float], str]:
        """Labels of lines with no more decimals than they need."""
        values = [units.to_display(v, self.line.quantity, self.page.system) for v in payload]
        whole = all(abs(round(v) - v) < 1e-6 for v in values)
        return lambda v: self.page.show(v, self.line.quantity, 0 if whole else 1)

    def near(self, whole: MapField) -> float:
        """How far from the best still counts as near it."""
        return NEAR.get(self.line.key, 0.02 * float(np.nanmax(whole.values) - np.nanmin(whole.values)))

    def near_words(self, near: float) -> str:
        """How far that is."""
        return "a point" if self.line.key in NEAR else f"{self.show(near)} {self.sign}"

    def conclusion(self, top: Peak, area: tuple[float, float, float, float] | None) -> str:
        """Where the best lies, how far one may go from it, and what the design as drawn gives away."""
        describe = self.plot.describe
        edge = any(v in (a.low, a.high) for v, a in zip(top[:2], self.plot.axes, strict=True))
        words = "Best at the map’s edge, " if edge else "Best at "
        words += (
            f"{describe(0, top.x)}, {describe(1, top.y)}: {self.line.words.lower()} {self.show(top.value)} {self.sign}"
        )
        if fits(self.run, self.page.design):
            words += f"; as drawn {self.show(self.now)}"
        words += "."
        if area:
            words += f" Near it, hatched, lie {describe(0, area[0])} to {describe(0, area[1])} "
            words += f"and {describe(1, area[2])} to {describe(1, area[3])}."
        return words


def drawn_map(page: DesignPage, run: Run, line: ComparisonLine, plot: Plot) -> Row:
    """What the page draws of a run; nothing before its coarse map is done."""
    made = Drawn(page, run, line, plot)
    whole = made.field(line.figure, line.times)
    if whole is None:
        return {}
    why = {"refused": len(made.years.refused), "why": sorted(set(made.years.refused.values()))[:2]}
    top = peak(whole, made.most)
    if top is None:
        return why | {"conclusion": "No design of this map can be."}
    smooth, through = refined(whole), surface(whole)
    at = lambda x, y: made.show(float(through(x, y)[0, 0])) if through is not None else "–"
    text, near = made.levels(smooth), made.near(whole)
    signed = smooth if made.most else MapField(smooth.xs, smooth.ys, -smooth.values)
    least = (top.value if made.most else -top.value) - near
    pin = plot.pin(*(number.now for number in plot.numbers))
    return (
        why
        | _limit(made)
        | {
            "plot": plot,
            "lines": lines_of(plot, contours(smooth, text), made.level_words(text)),
            "near": hatched(plot, signed, least),
            "near_words": f"within {made.near_words(near)} of the best",
            "pin": pin,
            "drawn": plot.mark(pin["at"][0], pin["at"][1], f"as drawn, {made.show(made.now)}"),
            "best": plot.mark(top.x, top.y, f"best, {made.show(top.value)}"),
            "coarse": whole.values.size < run.size,
            "marks": marks_of(page, plot, at),
            "rays": rays_of(page, plot),
            "conclusion": made.conclusion(top, reach(signed, least)),
        }
    )


def _limit(made: Drawn) -> Row:
    """Where stagnation passes its limit, as typed or as usual."""
    text = made.page.state.query.get("most.stagnation", "")[:20]
    limit, wrong = HOT_H, ""
    try:
        limit = units.parse_number(text) if text.strip() else HOT_H
    except ValueError as error:
        wrong = units.no_number(text, error)
    payload = {"hot_text": text or units.number(limit, 0), "hot_wrong": wrong}
    hot = made.field("stagnation_h")
    if hot is None or not np.nanmin(hot.values) < limit < np.nanmax(hot.values):
        return payload
    return payload | {"hot": lines_of(made.plot, contours(refined(hot), [limit]), lambda v: f"{units.number(v, 0)} h")}
