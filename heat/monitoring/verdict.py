"""What may be told of a ranking: sound, one cause, one of a few, unclear, or that nothing fits."""

from dataclasses import dataclass
from typing import Literal

from heat.monitoring.diagnosis import Cause

Kind = Literal["sound", "likely", "one_of", "unclear", "nothing_fits"]
CERTAIN, NAMED = 0.8, 3
"""Share from which a cause is called likely, and which those named together must reach (1); how many are named
together at most (1). Source: calibrated on the plant of heat.tests.plant."""
FITS = 3.0
"""Mean square of what the best cause leaves unexplained, in its uncertainties (1), above which nothing fits. Source:
the same plant: sound ones stay below."""


@dataclass(frozen=True)
class Verdict:
    """What may be told: its kind, the causes that are named, together holding ``share`` (1), and how far the readings
    lie from the first of all (K).
    """

    kind: Kind
    named: tuple[Cause, ...]
    share: float
    misfit_k: float


def judged(ranked: list[Cause]) -> Verdict:
    """The verdict on causes that are ranked (shares, no unit).

    Parameters
    ----------
    ranked
        Causes, the likeliest first.

    Returns
    -------
    Verdict
        What may be told.
    """
    first = ranked[0]
    if first.off > FITS:
        return Verdict("nothing_fits", (), 0.0, first.misfit_k)
    if first.share >= CERTAIN:
        return Verdict("likely" if first.sizes else "sound", (first,), first.share, first.misfit_k)
    named: list[Cause] = []
    for cause in ranked[:NAMED]:
        named.append(cause)
        share = sum(one.share for one in named)
        if share >= CERTAIN:
            return Verdict("one_of", tuple(named), share, first.misfit_k)
    return Verdict("unclear", (), sum(one.share for one in named), first.misfit_k)
