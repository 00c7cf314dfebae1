"""The words of the trade as the application uses them: one file behind the “?” beside a term, “/” and the report."""

import re
import tomllib
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

FILE = Path(__file__).parent / "data" / "glossary.toml"


@dataclass(frozen=True)
class Term:
    """A term, what it means, what else it is called, the page where it matters (``step?query``) and its source."""

    name: str
    meaning: str
    synonyms: tuple[str, ...]
    where: str
    source: str
    report: bool = False
    """Whether a report explains it to its reader."""

    @property
    def key(self) -> str:
        """Its name as an address writes it."""
        return re.sub(r"[^a-z0-9]+", "-", self.name.lower().replace("₂", "2")).strip("-")


@lru_cache(1)
def terms() -> tuple[Term, ...]:
    """Every term, by name."""
    found = tomllib.loads(FILE.read_text(encoding="utf-8"))["term"]
    return tuple(sorted((Term(**{**one, "synonyms": tuple(one["synonyms"])}) for one in found), key=lambda t: t.key))


@lru_cache(1)
def by_key() -> dict[str, Term]:
    """Terms by key."""
    return {term.key: term for term in terms()}
