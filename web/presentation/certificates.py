"""Certificates of a design's parts in words: what is there, and what permits and grants would miss."""

from heat.design import Design
from heat.design.safety import Certificate
from heat.economics.certificates import certified, missing


def certificate_text(one: Certificate) -> str:
    """A certificate in one line: number, standard, date, where it is kept."""
    return ", ".join(words for words in (one.number, one.standard, one.dated, one.document) if words)


def certificates_of(design: Design) -> dict[str, str]:
    """What is certified, by the part's key."""
    return {
        found.part: "; ".join(certificate_text(one) for one in found.certificates)
        for found in certified(design)
        if found.certificates
    }


def missing_text(design: Design) -> str:
    """What a permit or a grant would still ask for; empty where nothing."""
    lacking = [f"{found.part} (usually tested by {found.standard})" for found in missing(design)]
    return f"No certificate is known of: {', '.join(lacking)}. Permits and grants often ask for it." if lacking else ""
