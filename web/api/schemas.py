"""What goes in and comes out, as the document of the interface describes it."""

from datetime import datetime
from typing import Annotated, Any, Literal

from ninja import Schema
from pydantic import ConfigDict, Field

from web.jobs.limits import A_MINUTE, KEY_A_MINUTE, KEY_RUNNING

Document = dict[str, object]
Text = Annotated[str, Field(max_length=80)]


class StrictInput(Schema):
    """What comes in: nothing but what is asked for."""

    model_config = ConfigDict(extra="forbid")


class There(StrictInput):
    """A place on the earth."""

    latitude_deg: float = Field(ge=-89.0, le=89.0, description="north positive (deg)")
    longitude_deg: float = Field(ge=-180.0, le=180.0, description="east positive (deg)")
    elevation_m: float = Field(0.0, ge=-430.0, le=6000.0, description="above the sea (m)")


class SimulationRequest(StrictInput):
    """A design to calculate, and the weather it is calculated with: a project's, else the rough climate of a place."""

    document: Document = Field(default_factory=dict, description="a design document; what is left out is as usual")
    project: int | None = Field(None, ge=1, le=2**62, description="calculate with the weather of this project")
    place: There | None = Field(None, description="calculate with the rough climate of this place")
    months: bool = False


class YearFigures(Schema):
    """A year in figures; each name ends in its unit."""

    weather: str
    rough: bool = Field(description="whether the weather is a rough or made-up climate")
    engine: str
    figures: dict[str, float]
    months: dict[str, list[float]] | None = Field(None, description="twelve sums of each account (kWh)")


class ProjectOut(Schema):
    number: int
    name: str
    place: str
    firm: str
    right: str = Field(description="view, survey, edit or own")
    revision: int
    changed: datetime
    designs: list[str]


class Projects(Schema):
    projects: list[ProjectOut]
    count: int


class NewProject(StrictInput):
    name: Text = ""
    place: There | None = None
    words: Text = Field("", description="what the place is called")
    firm: int | None = Field(None, ge=1, le=2**62)


class DesignOut(Schema):
    letter: str
    name: str
    note: str
    revision: int
    document: Document


class ValueChanges(StrictInput):
    """Values by dotted path, set as one edit; ``expected``: what they were thought to be, so that another's edit is not
    overwritten."""

    set: dict[str, object] = Field(min_length=1, max_length=200)
    expected: dict[str, object] = Field(default_factory=dict)
    seen: dict[str, object] = Field(default_factory=dict, deprecated=True, description="the earlier name of expected")
    force: bool = Field(False, description="also where other designs would no longer be calculated")


class WeatherOut(Schema):
    number: int
    name: str
    kind: str
    made_up: bool
    in_use: bool
    checksum: str


class ChangedValue(Schema):
    before: float
    now: float


class WeatherIn(WeatherOut):
    """A year that was brought, and what of the project's site moved with it."""

    changed: dict[str, ChangedValue] = Field(description="values of the site that changed, by path")
    moved: dict[str, ChangedValue] = Field(deprecated=True, description="the earlier name of changed")


class AnswerIn(StrictInput):
    """One answer: a kind, an entry of the catalogue, values by dotted path, a weather year of the project."""

    name: Text = Field(min_length=1)
    kind: Text = ""
    entry: Text = ""
    set: dict[Text, bool | int | float | Text | None] = Field(default_factory=dict, max_length=40)
    weather: Annotated[str, Field(max_length=64)] = Field("", description="checksum of a weather year of this project")


class QuestionIn(StrictInput):
    name: Text = Field(min_length=1)
    answers: list[AnswerIn] = Field(min_length=2, max_length=8)


class Sweep(StrictInput):
    """Questions with two to eight answers each; every combination is a year, or a sample of them."""

    questions: list[QuestionIn] = Field(min_length=1, max_length=6)
    most: int = Field(1000, ge=2, le=2000)


class RunOut(Schema):
    number: int
    purpose: str
    size: int = Field(description="years it takes")
    done: int
    finished: bool
    stopped: bool
    left_s: float | None = Field(None, description="seconds left at this pace")


class Results(Schema):
    questions: list[str]
    rows: list[dict[str, object]] = Field(description="answers by question, figures by name; null where not done yet")


class ReportIn(StrictInput):
    title: Annotated[str, Field(max_length=120)] = ""
    note: Annotated[str, Field(max_length=2000)] = ""
    sections: list[str] = Field(default_factory=list, max_length=60)
    designs: list[Annotated[str, Field(max_length=1)]] = Field(default_factory=list, max_length=26)
    units: Literal["si", "us"] | None = None
    paper: Literal["A4", "Letter"] | None = None


class ReportOut(Schema):
    number: int
    title: str
    designs: str
    issued: datetime
    printed: bool
    checksum: str


class Readings(StrictInput):
    """Readings: each its moment ``at``, temperatures (°C), flows (kg/h), sun (W/m²) by name, ``store`` from the floor
    up."""

    readings: list[Any] = Field(max_length=5000)


class Taken(Schema):
    stored: int = Field(description="readings that are new")
    known: int = Field(description="readings of a moment that was stored before")
    kept: int = Field(deprecated=True, description="the earlier name of stored")
    refused: list[str]


LIMITS = (
    f"A key may ask for {KEY_A_MINUTE} years a minute, all keys of a person for {A_MINUTE}; a heavy design counts "
    f"as several. Long questions are sweeps, {KEY_RUNNING} of a key at once."
)
