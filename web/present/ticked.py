"""Which cautions are open: those nobody answered for, or whose number has changed since."""

from dataclasses import dataclass

from web.present.cautions import Caution, cautions
from web.projects.services.ticks import Tick, ticks_of
from web.sheet.page import Sheet


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
    def moved(self) -> bool:
        """Whether it was ticked off, and its number has changed since."""
        return self.tick is not None and self.tick.stands and self.tick.proof != self.caution.proof


def answered(sheet: Sheet) -> list[Answered]:
    """Every caution of the design with the last word on it, open ones first, the gravest first."""
    ticks = ticks_of(sheet.design)
    last = lambda key: ticks[key][-1] if ticks.get(key) else None
    found = [Answered(caution, last(caution.key)) for caution in cautions(sheet)]
    return sorted(found, key=lambda one: not one.open)
