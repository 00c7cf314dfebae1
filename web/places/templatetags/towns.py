"""How a town is told from others of its name."""

from django import template

from web.places.models import Town
from web.places.where import degrees
from web.ui import units

register = template.Library()


@register.filter
def lies(town: Town) -> str:
    """Its region and country, its people, and where it lies."""
    parts = [part for part in (town.region, town.country) if part]
    people = f"{units.number(town.people, 0)} people" if town.people else ""
    return " · ".join(filter(None, (", ".join(parts), people, degrees(town.latitude, town.longitude))))
