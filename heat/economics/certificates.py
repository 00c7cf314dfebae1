"""Which parts of a design are certified, and which certificates a permit or a grant would miss."""

from typing import NamedTuple

from heat.design import Design
from heat.design.safety import Certificate

STANDARDS = {"collector": "EN ISO 9806", "store": "EN 12977-3", "controller": "EN 12977-5"}
"""The standard a part is usually tested by. Source: the scopes of these standards."""


class Certified(NamedTuple):
    """A part of a design by its key, the standard it is usually tested by, and the certificates that are known."""

    part: str
    standard: str
    certificates: tuple[Certificate, ...]


def certified(design: Design) -> list[Certified]:
    """The parts that are asked for certificates, each with those that have a number (no unit).

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    list[Certified]
        The collector, the store where there is one indoors, the controller where a pump is switched.
    """
    scheme = design.system.scheme
    there = {
        "collector": True,
        "store": scheme.driven_by != "none" and scheme.exchange != "pool",
        "controller": scheme.driven_by == "pump",
    }
    known = [one for one in design.safety.certificates if one.number.strip()]
    return [
        Certified(part, STANDARDS[part], tuple(one for one in known if one.of == part))
        for part, fitted in there.items()
        if fitted
    ]


def missing(design: Design) -> list[Certified]:
    """The parts without a certificate (no unit).

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    list[Certified]
        Those of which no number is known.
    """
    return [one for one in certified(design) if not one.certificates]
