"""What every part of the design document shares: units, ranges, frozen values."""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field


def quantity(default: Any, unit: str, low: float, high: float, title: str) -> Any:
    """A field with its unit (such as "W/K"), inclusive range (in that unit) and title.

    Parameters
    ----------
    default
        Value where none is given.
    unit
        Unit of the value, such as ``"W/K"``.
    low
        Lowest value allowed.
    high
        Highest value allowed.
    title
        Title on screens.

    Returns
    -------
    Any
        A field with its unit (such as "W/K"), inclusive range (in that unit) and title.
    """
    return Field(default, ge=low, le=high, title=title, json_schema_extra={"unit": unit})


def optional(unit: str, low: float, high: float, title: str) -> Any:
    """A field that is calculated where it is not typed: unit (such as "W/K"), range, title.

    Parameters
    ----------
    unit
        Unit of the value, such as ``"W/K"``.
    low
        Lowest value allowed.
    high
        Highest value allowed.
    title
        Title on screens.

    Returns
    -------
    Any
        A field that is calculated where it is not typed: unit (such as "W/K"), range, title.
    """
    return Field(None, ge=low, le=high, title=title, json_schema_extra={"unit": unit})


def rows(default: Any, unit: str, length: int, title: str) -> Any:
    """A row of ``length`` values in one unit (such as "degC").

    Parameters
    ----------
    default
        Value where none is given.
    unit
        Unit of the value, such as ``"W/K"``.
    length
        Number of values.
    title
        Title on screens.

    Returns
    -------
    Any
        A row of ``length`` values in one unit (such as "degC").
    """
    return Field(default, min_length=length, max_length=length, title=title, json_schema_extra={"unit": unit})


class Part(BaseModel):
    """Base of every part: frozen, no unknown fields, no NaN or infinity."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


Weight = Annotated[float, Field(ge=0, le=1000)]
Celsius = Annotated[float, Field(ge=-2, le=35)]
LayerCelsius = Annotated[float, Field(ge=1, le=110)]
Share = Annotated[float, Field(ge=0, le=1)]
Factor = Annotated[float, Field(ge=0, le=5)]
Modifier = Annotated[float, Field(ge=0, le=2)]
Kilowatt = Annotated[float, Field(ge=0, le=100_000)]
Litres = Annotated[float, Field(ge=0, le=100_000)]
Name = Annotated[str, Field(max_length=40)]
Day = Annotated[int, Field(ge=1, le=365)]
Energy = Literal["gas", "oil", "power", "wood"]
ALL_DAY = (True,) * 24
ALL_YEAR = (1.0,) * 12
