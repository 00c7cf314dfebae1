"""What is wrong, as one object and in words: for the command line."""

from typing import Any

from heat.design import Design
from heat.monitoring.diagnosis import Cause, discriminating_row
from heat.monitoring.faults import FAULTS
from heat.monitoring.log import Log
from heat.monitoring.verdict import Verdict

CONCLUDED = {
    "sound": "It works as designed, as far as these readings show.",
    "likely": "Most likely:",
    "one_of": "One of these:",
    "unclear": "These readings cannot decide: measure three days of sun with the collector’s outlet.",
    "nothing_fits": "Nothing that is known here explains these readings: look at clock, sensors and design first.",
}
LISTED = 6
"""Causes listed (1)."""


def cause_words(cause: Cause) -> str:
    """A cause in words, its sizes in their units (such as K).

    Parameters
    ----------
    cause
        The cause.

    Returns
    -------
    str
        Its faults with their sizes.
    """
    one = lambda key, size: (
        f"{FAULTS[key].words} {size:.3g} {FAULTS[key].unit}" if FAULTS[key].unit else FAULTS[key].words
    )
    return " and ".join(one(key, size) for key, size in cause.sizes.items()) or "nothing: it works as designed"


def next_reading(ranked: list[Cause], log: Log) -> dict[str, Any] | None:
    """Where the first two causes differ most: the row, the hour of the year (h), and what each shows there.

    Parameters
    ----------
    ranked
        Causes, the likeliest first.
    log
        The readings.

    Returns
    -------
    dict | None
        Row, hour and values; None where no row parts them.
    """
    other = next((one for one in ranked[1:] if not set(one.keys) & set(ranked[0].keys)), None)
    found = discriminating_row(ranked[0], other, log) if other else None
    if found is None:
        return None
    row, hour, first, second = found
    return {"row": row, "hour": hour, "if_first": first, "if_other": second}


def as_object(verdict: Verdict, ranked: list[Cause], log: Log, design: Design) -> dict[str, Any]:
    """The answer as one object: verdict, answers with their shares (1), misfit (K), the reading that would tell.

    Parameters
    ----------
    verdict
        The answer.
    ranked
        Causes, the likeliest first.
    log
        The readings.
    design
        The design.

    Returns
    -------
    dict
        Keys as docs/diagnosis.md has them.
    """
    answers = list(verdict.named) or ranked[:LISTED]
    return {
        "verdict": verdict.kind,
        "answers": [{"faults": dict(one.sizes), "share": round(one.share, 3)} for one in answers],
        "misfit_k": round(verdict.misfit_k, 2),
        "next_reading": next_reading(ranked, log),
        "kind": design.system.kind,
    }


def in_words(verdict: Verdict, ranked: list[Cause]) -> str:
    """The answer in words (shares in %, misfit in K).

    Parameters
    ----------
    verdict
        The answer.
    ranked
        Causes, the likeliest first.

    Returns
    -------
    str
        Some lines.
    """
    lines = [CONCLUDED[verdict.kind]]
    answers = (
        verdict.named if verdict.kind in ("likely", "one_of") else ranked[:LISTED] if verdict.kind == "unclear" else ()
    )
    lines += [f"  {cause_words(one)}" + (f", {100 * one.share:.0f} %" if len(answers) > 1 else "") for one in answers]
    lines.append(f"The first explains the temperatures to within {verdict.misfit_k:.1f} K.")
    return "\n".join(lines)
