"""Cautions ticked off: who answered for which, with the number it had; what is taken back stays in the log."""

from dataclasses import asdict, dataclass
from datetime import datetime

from django.db import transaction
from django.utils import timezone

from heat.errors import HeatError
from web.accounts.models import User
from web.projects.models import Design
from web.projects.permissions import locked_design

MOST_WORDS = 500
"""Words on cautions that a design keeps."""


@dataclass(frozen=True)
class Tick:
    """A word on a caution: the number it had then, who says so, a comment, when, and whether it was ticked off or taken
    back."""

    proof: str
    name: str
    remark: str
    at: str
    stands: bool

    @property
    def when(self) -> datetime:
        """When it was said."""
        return datetime.fromisoformat(self.at)


def ticks_of(design: Design) -> dict[str, list[Tick]]:
    """Every word on each caution of a design, the first first."""
    return {key: [Tick(**word) for word in words] for key, words in design.answers.items()}


@transaction.atomic
def tick(
    *, design: Design, author: User, caution: str, proof: str, name: str, remark: str = "", stands: bool = True
) -> Design:
    """Tick a caution off, or take that back. Raises HeatError without a name."""
    design = locked_design(design, author)
    if not name.strip():
        raise HeatError("Who answers for it? A name is needed.")
    if sum(len(words) for words in design.answers.values()) >= MOST_WORDS:
        raise HeatError("This design has no room for more.")
    word = Tick(proof, name.strip()[:80], remark.strip()[:300], timezone.now().isoformat(), stands)
    design.answers = {**design.answers, caution[:60]: [*design.answers.get(caution[:60], []), asdict(word)]}
    design.save(update_fields=["answers"])
    return design
