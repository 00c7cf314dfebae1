"""The band of a design's solar fraction, from the last run that asked how sure it is."""

from dataclasses import dataclass
from datetime import datetime
from threading import Lock

import numpy as np
from cachetools import LRUCache, cached

from heat.studies.uncertainty import BAND
from web.jobs.models import Run
from web.jobs.services import answer, fits
from web.projects.models import Design

BANDS_CACHED = 64


@dataclass(frozen=True)
class FractionBand:
    """The solar fraction's edges (0 to 1), when they were calculated, and whether the design is "
    "still as it was then."""

    low: float
    high: float
    at: datetime
    fits: bool


@cached(LRUCache(BANDS_CACHED), key=lambda run: run.pk, lock=Lock())
def _edges(run: Run) -> tuple[float, float] | None:
    """The edges of a finished run; None where no year of it could be calculated."""
    fraction = answer(run)["fraction"]
    finite = fraction[np.isfinite(fraction)]
    return (float(np.quantile(finite, BAND[0])), float(np.quantile(finite, BAND[2]))) if len(finite) else None


def fraction_edges(design: Design) -> FractionBand | None:
    """The band of a design as last calculated, if one ever was."""
    if not getattr(design.project, "has_runs", True):
        return None
    runs = design.project.runs.filter(letter=design.letter, purpose="doubt", stopped=None)
    run = runs.exclude(chunks__done=None).first()
    edges = _edges(run) if run else None
    return FractionBand(*edges, run.created, fits(run, design)) if run and edges else None


@cached(LRUCache(BANDS_CACHED), key=lambda run: run.pk, lock=Lock())
def _far(run: Run) -> float | None:
    """How far the sun's share of the need lies from its middle in the outer tenths (1)."""
    share = answer(run)["sun_share_kwh"]
    finite = share[np.isfinite(share)]
    low, middle, high = np.quantile(finite, BAND) if len(finite) else (0.0, 0.0, 0.0)
    return float((high - low) / 2.0 / middle) if middle > 0 else None


def yield_far(design: Design) -> float | None:
    """How far a design's yield is off in the outer tenths of its band (1), if that was calculated and still fits."""
    runs = design.project.runs.filter(letter=design.letter, purpose="doubt", stopped=None)
    run = runs.exclude(chunks__done=None).first()
    return _far(run) if run and fits(run, design) else None
