"""The answer to a ranking: sound, one cause, one of a few, unclear, or that nothing fits."""

from dataclasses import dataclass
from typing import Literal

from heat.monitoring.diagnosis import Cause

Kind = Literal["sound", "likely", "one_of", "unclear", "nothing_fits"]
CERTAIN, NAMED = 0.8, 3
"""Share from which a cause is called likely, and which those named together must reach (1); how many are named
together at most (1). Source: calibrated on the plant of heat.tests.plant."""
NEARLY = 0.85
"""Share of what the first explains (1) from which another is named beside it. Source: the same plant."""
USUAL_MISFIT_K = 2.5
"""Distance of the temperatures (K) below which nine of ten sound plants lie. Source: the same plant."""
FITS = 3.0
"""Mean square of what the best cause leaves unexplained, in its uncertainties (1), above which nothing fits, unless it
leaves but little of what sound operation does. Source: the same plant: sound ones stay below."""
LEFT = 0.5
"""That little (share, 1). Source: our own choice."""


@dataclass(frozen=True)
class Verdict:
    """An answer: its kind, the causes that are named, together holding ``share`` (1), and how far the readings
    lie from the first of all (K).
    """

    kind: Kind
    named: tuple[Cause, ...]
    share: float
    misfit_k: float


def _nearly_as_good(one: Cause, first: Cause) -> bool:
    """Whether a single other fault explains nearly as much as the first: by how much the better of two good answers
    leads lies with the model, not with the plant.
    """
    return len(one.sizes) == 1 and bool(first.sizes) and one.gain >= NEARLY * first.gain


def judged(ranked: list[Cause]) -> Verdict:
    """The verdict on causes that are ranked (shares, no unit).

    Parameters
    ----------
    ranked
        Causes, the likeliest first.

    Returns
    -------
    Verdict
        The answer.
    """
    first = ranked[0]
    sound = next((one.off for one in ranked if not one.sizes), first.off)
    if first.off > FITS and first.off > LEFT * sound:
        return Verdict("nothing_fits", (), 0.0, first.misfit_k)
    alike = [one for one in ranked[1:] if _nearly_as_good(one, first)]
    if first.share >= CERTAIN and not alike:
        return Verdict("likely" if first.sizes else "sound", (first,), first.share, first.misfit_k)
    if first.share >= CERTAIN:
        named_with = (first, *alike[: NAMED - 1])
        return Verdict("one_of", named_with, sum(one.share for one in named_with), first.misfit_k)
    named: list[Cause] = []
    for cause in ranked[:NAMED]:
        named.append(cause)
        share = sum(one.share for one in named)
        if share >= CERTAIN:
            return Verdict("one_of", tuple(named), share, first.misfit_k)
    return Verdict("unclear", (), sum(one.share for one in named), first.misfit_k)
