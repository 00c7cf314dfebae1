"""A claim of the validation table: what is expected by whom, and what the core says."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Row:
    """One check: what, expected, got, how far apart they may be (units in the name), and the source."""

    name: str
    expected: float
    got: float
    tolerance: float
    source: str

    @property
    def ok(self) -> bool:
        return bool(abs(self.got - self.expected) <= self.tolerance)
