"""A few made-up towns, where there is land, for tests."""

from web.places.models import Town
from web.places.words import folded

TOWNS = (
    ("Askerby", "Upper Merrow", "Merrow", 51.3, 9.5, 12_400, "asker|askarbi"),
    ("Tarn Head", "Upper Merrow", "Merrow", 47.2, 8.1, 900, ""),
    ("Tarn Head", "Sound", "Merrow", -37.1, 175.2, 31_000, ""),
    ("Tårnvik", "North Sound", "Merrow", 69.6, 18.9, 4_000, ""),
)


def made_up_towns():
    """Put them into the database."""
    for name, region, country, latitude, longitude, people, others in TOWNS:
        Town.objects.create(
            name=name,
            region=region,
            country=country,
            latitude=latitude,
            longitude=longitude,
            people=people,
            called="|" + "|".join(filter(None, (folded(name), others))),
            lies=f"|{folded(region)}|{folded(country)}",
        )
