"""One tree of errors. Each says what, where, what is allowed and the way out."""

from dataclasses import dataclass


class HeatError(Exception):
    """Any refusal of the core."""


@dataclass
class InputError(HeatError):
    """A value outside its allowed range.

    Attributes: ``name`` dotted path of the field; ``value`` as given; ``allowed`` range
    with its unit; ``way_out`` what to do about it.
    """

    name: str
    value: object
    allowed: str
    way_out: str = ""

    def __str__(self) -> str:
        """The refusal in words: what, where, what is allowed, the way out."""
        given = "" if self.value is None else f"{self.value!r} is not allowed; allowed: "
        text = f"{self.name}: {given}{self.allowed}."
        return f"{text} {self.way_out}".rstrip()


@dataclass
class WeatherFileError(HeatError):
    """A weather file that cannot be used.

    Attributes: ``file`` its name; ``reason`` what is wrong; ``line`` (1 = first line of the
    file) and ``column`` where known; ``way_out`` how to mend it.
    """

    file: str
    reason: str
    line: int | None = None
    column: str | None = None
    way_out: str = ""

    def __str__(self) -> str:
        """The refusal in words: what, where, what is allowed, the way out."""
        place = self.file
        if self.line is not None:
            place += f", line {self.line}"
        if self.column:
            place += f", column {self.column}"
        return f"{place}: {self.reason} {self.way_out}".rstrip()
