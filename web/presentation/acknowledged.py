"""Which cautions are open: those nobody answered for, or whose number has changed since."""

from dataclasses import dataclass

from web.editor.design_page import DesignPage
from web.presentation.cautions import Caution, cautions
from web.projects.services.acknowledgements import Tick, ticks_of


@dataclass(frozen=True)
class Answered:
    """A caution and the last word on it, if there was one."""

    caution: Caution
    tick: Tick | None

    @property
    def open(self) -> bool:
        """Whether it still wants an answer."""
        return self.tick is None or not self.tick.stands or self.tick.proof != self.caution.proof

    @property
    def changed(self) -> bool:
        """Whether it was ticked off, and its number has changed since."""
        return self.tick is not None and self.tick.stands and self.tick.proof != self.caution.proof


def answered(page: DesignPage) -> list[Answered]:
    """Every caution of the design with the last word on it, open ones first, the gravest first."""
    ticks = ticks_of(page.design)
    last = lambda key: ticks[key][-1] if ticks.get(key) else None
    found = [Answered(caution, last(caution.key)) for caution in cautions(page)]
    return sorted(found, key=lambda one: not one.open)
