"""Files of a taken-along project, as types: what comes in is held against them, docs/ holds their schemas.

`python -m web.projects.archive_shapes` writes the schemas anew.
"""

import json
from pathlib import Path
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, RootModel, ValidationError

from web.projects.timestamps import Moment

DOCS = Path(__file__).resolve().parents[2] / "docs"
Whole = Annotated[int, Field(ge=0, le=2_000_000_000)]
Number = Annotated[int, Field(ge=1, le=99, description="The N of weather/N.csv")]
Words = Annotated[str, Field(max_length=4000)]


class Shape(BaseModel):
    """Every name given, and no other."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class CautionAnswer(Shape):
    """What was answered of a caution, when, at which number."""

    proof: Words
    name: Words
    remark: Words
    at: Moment
    stands: bool


class VersionShape(Shape):
    """A design as it was saved."""

    document: dict[str, object] = Field(description="A whole design document: design.schema.json")
    weather: Number
    note: Words
    revision: Whole
    at: Moment


class DesignShape(Shape):
    """A design: the parts of its document that are its own."""

    letter: Annotated[str, Field(pattern="^[A-Z]$")]
    name: Words
    note: Words
    archived: bool
    place: Whole
    scheme: dict[str, object] = Field(
        description="The parts plane, system, numerics, offer, safety of design.schema.json"
    )
    answers: dict[str, list[CautionAnswer]]
    versions: list[VersionShape]


class ProjectShape(Shape):
    """project.json"""

    format: Annotated[int, Field(ge=1)]
    name: Words
    place: Words
    survey: dict[str, object] = Field(description="demand, site, money, exposure of design.schema.json")
    weather: Number
    revision: Whole
    cursor: Whole
    undone: Whole
    designs: Annotated[list[DesignShape], Field(min_length=1, max_length=26)]


class EditShape(Shape):
    """An edit: one value of a document, before and after."""

    place: Whole
    revision: Whole
    path: Words
    before: Any
    after: Any
    dropped: bool
    design: str | None
    at: Moment


class EditsShape(RootModel[list[EditShape]]):
    """log.json"""


class WeatherShape(Shape):
    """weather/N.json"""

    name: Words
    kind: Words
    made_up: bool
    shift_h: float
    latitude_deg: Annotated[float, Field(ge=-90, le=90)]
    longitude_deg: Annotated[float, Field(ge=-180, le=180)]
    elevation_m: Annotated[float, Field(ge=-500, le=9000)]
    utc_offset_h: Annotated[float, Field(ge=-14, le=14)]
    sun_moment_h: Annotated[float, Field(ge=0, le=1)]
    notes: list[tuple[Words, Words, int | None]]


SHAPES: dict[str, type[BaseModel]] = {"project": ProjectShape, "log": EditsShape, "weather": WeatherShape}


def schema_of(name: str) -> str:
    """The JSON Schema of a file, as docs/ holds it."""
    return json.dumps(SHAPES[name].model_json_schema(), indent=1) + "\n"


def unlike(name: str, payload: Any) -> str:
    """Where a file is not of its shape, in words; nothing where it is."""
    try:
        SHAPES[name].model_validate(payload)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(step) for step in first["loc"])
        return f"{where or 'it'}: {first['msg'][:1].lower()}{first['msg'][1:]}"
    return ""


if __name__ == "__main__":
    for shape in SHAPES:
        (DOCS / f"{shape}.schema.json").write_text(schema_of(shape))
