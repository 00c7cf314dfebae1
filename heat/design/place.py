"""Where it stands: site, skyline, and the plane of the collectors."""

from math import atan, cos, degrees, radians
from typing import Annotated, Literal

from pydantic import Field, model_validator

from heat.design.base import Celsius, Day, Name, Part, Share, optional, quantity, rows


class Mains(Part):
    """Cold water: calculated from the air, twelve months typed, or a yearly wave."""

    source: Literal["calculated", "monthly", "wave"] = Field("calculated", title="Mains temperature")
    monthly_c: tuple[Celsius, ...] = rows((7, 7, 8, 9, 12, 14, 16, 16, 15, 13, 10, 8), "degC", 12, "Mains by month")
    mean_c: float = quantity(13, "degC", 0, 30, "Mean over the year")
    swing_c: float = quantity(6, "delta_degC", 0, 15, "Half the yearly range")
    coldest_day: float = quantity(35, "day", 0, 365, "Coldest day of the year")


class SkylinePoint(Part):
    """One point of the horizon."""

    bearing_deg: float = quantity(180, "deg", 0, 360, "Bearing")
    altitude_deg: float = quantity(0, "deg", 0, 89, "Altitude")


class Tree(Part):
    """Something that stands before the sky between two bearings and lets part of the light through."""

    name: Name = Field("tree", title="Name")
    from_deg: float = quantity(120, "deg", 0, 360, "From bearing")
    to_deg: float = quantity(150, "deg", 0, 360, "To bearing")
    altitude_deg: float = quantity(25, "deg", 0, 89, "Altitude of its top")
    in_leaf: Share = Field(0.2, title="Lets through in leaf", json_schema_extra={"unit": "1"})
    bare: Share = Field(0.65, title="Lets through bare", json_schema_extra={"unit": "1"})
    leaf_months: tuple[bool, ...] = rows((False,) * 3 + (True,) * 7 + (False,) * 2, "1", 12, "In leaf")

    @property
    def transmittance(self) -> tuple[float, ...]:
        """Light it lets through in each month (no unit)."""
        return tuple(self.in_leaf if leaf else self.bare for leaf in self.leaf_months)


class Obstacle(Part):
    """A wall or house measured by tape: seen from the collectors at a bearing and distance."""

    name: Name = Field("house", title="Name")
    bearing_deg: float = quantity(150, "deg", 0, 360, "Bearing of its middle")
    distance_m: float = quantity(12, "m", 0.2, 5000, "Distance")
    height_m: float = quantity(5, "m", 0, 500, "Height above the collectors")
    width_m: float = quantity(8, "m", 0.1, 5000, "Width across")

    @property
    def half_deg(self) -> float:
        """Half the bearing it covers (deg), of a wall square to the line of sight."""
        return degrees(atan(0.5 * self.width_m / self.distance_m))

    def altitude_deg(self, off_deg: float = 0.0) -> float:
        """Altitude of its edge (deg) at a bearing off its middle (deg).

        Parameters
        ----------
        off_deg
            Bearing off the obstacle's middle (deg).

        Returns
        -------
        float
            Altitude of its edge (deg).
        """
        return degrees(atan(self.height_m * cos(radians(off_deg)) / self.distance_m))


class Site(Part):
    """The place."""

    latitude_deg: float = quantity(46.4, "deg", -66, 66, "Latitude, north positive")
    longitude_deg: float = quantity(-11.6, "deg", -180, 180, "Longitude, east positive")
    elevation_m: float = quantity(20, "m", -430, 5500, "Elevation")
    ground_reflectance: float = quantity(0.2, "1", 0, 0.9, "Ground reflects")
    wind_share: float = quantity(0.5, "1", 0, 1, "Share of the wind that reaches the collectors")
    ground_by_month: tuple[Share, ...] | None = Field(
        None, min_length=12, max_length=12, title="Ground reflects, by month", json_schema_extra={"unit": "1"}
    )
    snow: tuple[tuple[Day, Day], ...] = Field(
        (), max_length=40, title="Snow on the glass, first and last day", json_schema_extra={"unit": "day"}
    )
    snow_until_hour: int = Field(
        24, ge=1, le=24, title="It slides off on its last day at", json_schema_extra={"unit": "h"}
    )
    mains: Mains = Mains()
    skyline: tuple[SkylinePoint, ...] = Field((), max_length=400, title="Skyline")
    trees: tuple[Tree, ...] = Field((), max_length=50, title="Trees")
    obstacles: tuple[Obstacle, ...] = Field((), max_length=50, title="Obstacles")
    planes: tuple["SurveyedPlane", ...] = Field((), max_length=20, title="Planes")

    @model_validator(mode="after")
    def _keys(self) -> "Site":
        keys = [plane.key for plane in self.planes]
        if len(set(keys)) < len(keys):
            raise ValueError("planes|every plane needs a key of its own")
        return self


class Overhang(Part):
    """A roof edge above the collectors."""

    fitted: bool = Field(False, title="Present")
    depth_m: float = quantity(0.6, "m", 0, 20, "Stands out")
    gap_m: float = quantity(0.3, "m", 0, 20, "Above the collectors' upper edge")


class SurveyedPlane(Part):
    """A place where collectors could go, as surveyed; a design stands on one of them."""

    key: Name = Field("P1", title="Key")
    name: Name = Field("roof", title="Name")
    kind: Literal["roof", "wall", "ground", "awning", "flat_roof"] = Field("roof", title="It is a")
    tilt_deg: float = quantity(40, "deg", 0, 90, "Tilt from horizontal")
    azimuth_deg: float = quantity(180, "deg", 0, 360, "True azimuth")
    width_m: float = quantity(6, "m", 0.3, 1000, "Usable width")
    height_m: float = quantity(3, "m", 0.3, 200, "Usable length up the slope")
    load_kg_m2: float = quantity(30, "kg/m2", 0, 2000, "May carry")
    pipe_m: float = quantity(12, "m", 0, 300, "Pipe to the plant room, one way")
    rise_m: float = quantity(4, "m", -50, 200, "Height above the plant room")
    pipe_runs: Literal["indoors", "outdoors", "buried"] = Field("indoors", title="The pipe runs")
    overhang: Overhang = Overhang()


class Rows(Part):
    """Racks one behind the other."""

    fitted: bool = Field(False, title="In rows")
    count: int = Field(3, ge=2, le=100, title="Rows", json_schema_extra={"unit": "1"})
    spacing_m: float = quantity(4, "m", 0.3, 100, "From row to row")


MirrorTilt = Annotated[float, Field(ge=-45, le=60)]


class Mirror(Part):
    """A flat mirror before the collectors, from their lower edge or further off, in one facet or several."""

    fitted: bool = Field(False, title="Fitted")
    width_m: float = quantity(4, "m", 0.1, 200, "Width")
    depth_m: float = quantity(1.5, "m", 0.1, 50, "Depth, away from the collectors")
    gap_m: float = quantity(0.1, "m", 0, 50, "Gap to the collectors")
    foot_m: float = quantity(0, "m", -20, 20, "Near edge above theirs")
    tilt_deg: float = quantity(0, "deg", -45, 60, "Rises away from the collectors by")
    tilt_by_month: tuple[MirrorTilt, ...] | None = Field(
        None, min_length=12, max_length=12, title="Rises by, by month", json_schema_extra={"unit": "deg"}
    )
    facets: int = Field(1, ge=1, le=20, title="Facets", json_schema_extra={"unit": "1"})
    facet_step_deg: float = quantity(0, "deg", -15, 15, "Each facet rises more by")
    reflectance: float = quantity(0.85, "1", 0, 0.98, "Reflects")
    soiling: float = quantity(0.05, "1", 0, 0.9, "Lost to dirt")


class Plane(Part):
    """Where the collectors lie; ``on`` names the surveyed plane they stand on."""

    on: Name = Field("", title="Stands on")
    tilt_deg: float = quantity(40, "deg", 0, 90, "Tilt from horizontal")
    azimuth_deg: float = quantity(180, "deg", 0, 360, "True azimuth, clockwise from north")
    slope_m: float = quantity(2.0, "m", 0.2, 100, "Collectors' length up the slope")
    width_m: float | None = optional("m", 0.2, 1000, "Width of the field, if known")
    overhang: Overhang = Overhang()
    rows: Rows = Rows()
    mirror: Mirror = Mirror()

    @model_validator(mode="after")
    def _room(self) -> "Plane":
        if self.rows.fitted and self.rows.spacing_m < 0.3 * self.slope_m:
            raise ValueError("rows.spacing_m|rows must stand further apart than 0.3 of the collectors' length")
        return self


Site.model_rebuild()
