"""From what a person types of a place to where it lies: a town, coordinates, or words on why it is neither."""

from dataclasses import dataclass, field
from math import cos, radians

from django.db.models import F, FloatField
from django.db.models.functions import Power

from heat.weather.place import ground_m
from heat.weather.world import FURTHEST_DEG
from web.places.coordinates import both
from web.places.models import Town
from web.places.towns import named, search

KM_A_DEGREE = 111.2
LOWEST_M = -430.0
"""The lowest a site may lie (m)."""
FAR_KM, LOOKED_AT_DEG = 150.0, 2.0
"""Without a town within so far (km), a place is asked about; how far (deg) towns are looked for."""


@dataclass(frozen=True)
class Place:
    """A place by its words, with its latitude and longitude (deg) and the height of its ground (m)."""

    words: str
    latitude_deg: float
    longitude_deg: float

    @property
    def site(self) -> dict[str, float]:
        """The values of a site there: degrees, and height by the coarse map (m)."""
        height = ground_m(min(max(self.latitude_deg, -89.0), 89.0), min(max(self.longitude_deg, -179.9), 179.9))
        return {
            "latitude_deg": self.latitude_deg,
            "longitude_deg": self.longitude_deg,
            "elevation_m": max(height, LOWEST_M),
        }


@dataclass
class Unclear(Exception):
    """Why a place cannot be told from what was typed, and towns that may be meant."""

    words: str
    towns: list[Town] = field(default_factory=list)


def place_of(text: str, chosen: str = "") -> Place:
    """The place that was typed, or the town that was chosen (by its number). Raises Unclear."""
    town = Town.objects.filter(pk=chosen).first() if chosen.isdecimal() and len(chosen) < 15 else None
    found = town or _typed(text)
    if isinstance(found, Place):
        return found
    return reachable(Place(str(found), found.latitude, found.longitude))


def _typed(text: str) -> Town | Place:
    try:
        pair = both(text)
    except ValueError as error:
        raise Unclear(str(error)) from error
    if pair:
        return reachable(Place(degrees(*pair), round(pair[0], 4), round(pair[1], 4)))
    known = named(text)
    if len(known) == 1:
        return known[0]
    if known:
        raise Unclear(f"{_how_many(known)} called “{text.strip()[:40]}”. Which is it?", known)
    alike = search(text)
    if alike:
        raise Unclear(f"No town is called “{text.strip()[:40]}”. Is it one of these?", alike)
    raise Unclear(
        f"No town is called “{text.strip()[:40]}”. Type a larger town nearby, or coordinates such as 46.4 N, 11.6 E."
    )


def _how_many(towns: list[Town]) -> str:
    return f"{len(towns)} places are" if len(towns) < 9 else "More than eight places are"


def reachable(place: Place) -> Place:
    """The same place where a site may lie. Raises Unclear for one nearer to the poles."""
    if abs(place.latitude_deg) > FURTHEST_DEG:
        raise Unclear(
            f"{place.words} lies beyond {FURTHEST_DEG:g}° of latitude, where neither the sun of a year nor a rough "
            "climate is calculated here."
        )
    return place


def degrees(latitude_deg: float, longitude_deg: float) -> str:
    """A place (deg) in words: degrees and minutes with their sides."""
    return f"{dms(latitude_deg, 'NS')}, {dms(longitude_deg, 'EW')}"


def dms(value: float, sides: str) -> str:
    """An angle (deg) in degrees and minutes with its side."""
    minutes = round(abs(value) * 60, 1)
    return f"{int(minutes // 60)}° {minutes % 60:04.1f}′ {sides[0] if value >= 0 else sides[1]}"


def nearest(latitude_deg: float, longitude_deg: float) -> tuple[Town, float] | None:
    """The nearest town to a place (deg) and how far it is (km); None where there is none within some 150 km."""
    wide = LOOKED_AT_DEG / max(cos(radians(latitude_deg)), 0.2)
    narrow = cos(radians(latitude_deg))
    apart = Power(F("latitude") - latitude_deg, 2.0) + Power((F("longitude") - longitude_deg) * narrow, 2.0)
    town = (
        Town.objects.filter(
            latitude__range=(latitude_deg - LOOKED_AT_DEG, latitude_deg + LOOKED_AT_DEG),
            longitude__range=(longitude_deg - wide, longitude_deg + wide),
        )
        .annotate(apart=Power(apart, 0.5, output_field=FloatField()))
        .order_by("apart")
        .first()
    )
    if town is None or town.apart * KM_A_DEGREE > FAR_KM:
        return None
    return town, town.apart * KM_A_DEGREE
