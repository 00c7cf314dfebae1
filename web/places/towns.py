"""Finding a town by its name: the shipped table, its way into the database, and the search."""

import lzma
import re
from collections.abc import Iterator
from hashlib import sha256
from pathlib import Path
from typing import NamedTuple

from django.contrib.postgres.search import TrigramWordSimilarity
from django.db import connection, transaction
from django.db.models import Case, F, QuerySet, Value, When
from django.db.models.expressions import Combinable

from web.places.models import Filled, Town
from web.places.words import folded

DATA = Path(__file__).parent / "data" / "towns.tsv.xz"
DISPLAYED = 8
"""Towns offered at once."""
LONGEST = 80
"""Letters of a name that are looked at."""
ALIKE = 0.42
"""How like a name must be to what was typed to be offered for it (0 to 1)."""


class TownRow(NamedTuple):
    """A line of the shipped table."""

    country: str
    region: str
    name: str
    latitude: float
    longitude: float
    people: int
    others: str

    @property
    def called(self) -> str:
        """Its names as they are searched."""
        return "|" + "|".join(filter(None, (folded(self.name), *self.others.split("|"))))

    @property
    def lies(self) -> str:
        """Its region and country as they are searched."""
        return f"|{folded(self.region)}|{folded(self.country)}"


def shipped() -> Iterator[TownRow]:
    """Every town of the shipped table."""
    with lzma.open(DATA, "rt", encoding="utf-8") as lines:
        for line in lines:
            country, region, name, latitude, longitude, people, others = line.rstrip("\n").split("\t")
            yield TownRow(country, region, name, float(latitude), float(longitude), int(people), others)


@transaction.atomic
def fill() -> bool:
    """Put the shipped table into the database, where it does not stand there yet; whether it was put in."""
    checksum = sha256(DATA.read_bytes()).hexdigest()
    if Filled.objects.filter(checksum=checksum).exists():
        return False
    Town.objects.all().delete()
    Filled.objects.all().delete()
    columns = "name, region, country, latitude, longitude, people, called, lies"
    with connection.cursor() as cursor, cursor.copy(f"COPY places_town ({columns}) FROM STDIN") as copy:
        for row in shipped():
            place = (row.name, row.region, row.country, row.latitude, row.longitude)
            copy.write_row((*place, row.people, row.called, row.lies))
    with connection.cursor() as cursor:
        cursor.execute("ANALYZE places_town")
    Filled.objects.create(checksum=checksum)
    return True


def _within(parts: list[str]) -> QuerySet[Town]:
    """Towns in a region or country whose name begins with each of the parts."""
    found = Town.objects.all()
    for part in filter(None, map(folded, parts)):
        found = found.filter(lies__contains=f"|{part}")
    return found


def search(text: str, most: int = DISPLAYED) -> list[Town]:
    """Towns for what was typed so far, “town” or “town, region, country”: those that begin so, or where none does those
    of a like name; the larger ones and those of this very name first."""
    name, *where = text[:LONGEST].split(",")
    wanted = folded(name)
    if len(wanted) < 2:
        return []
    inside = _within(where)
    begun = inside.filter(called__contains=f"|{wanted}").annotate(weight=_weight(wanted))
    found: list[Town] = list(begun.order_by("-weight", "pk")[:most])
    if not found and len(wanted) > 3:
        return _alike(inside, wanted, most)
    return found


def _weight(wanted: str) -> Combinable:
    """How well a name fits: its people, tenfold where it comes first, tenfold where it is whole."""
    times = Case(
        When(called=f"|{wanted}", then=Value(100)),
        When(called__startswith=f"|{wanted}|", then=Value(100)),
        When(called__contains=f"|{wanted}|", then=Value(10)),
        When(called__endswith=f"|{wanted}", then=Value(10)),
        When(called__startswith=f"|{wanted}", then=Value(10)),
        default=Value(1),
    )
    return times * (F("people") + 1)


@transaction.atomic
def _alike(towns: QuerySet[Town], wanted: str, most: int) -> list[Town]:
    """Towns whose name is like a wanted one, the likest first."""
    with connection.cursor() as cursor:
        cursor.execute("SET LOCAL pg_trgm.word_similarity_threshold = %s", [ALIKE])
    near = TrigramWordSimilarity(wanted, "called")
    found = towns.filter(called__trigram_word_similar=wanted).annotate(near=near)
    return list(found.order_by("-near", "-people", "pk")[:most])


def named(text: str) -> list[Town]:
    """Towns of this very name, “town” or “town, region, country”; the larger ones first."""
    name, *where = text[:LONGEST].split(",")
    wanted = folded(name)
    if not wanted:
        return []
    return list(_within(where).filter(called__regex=rf"\|{re.escape(wanted)}(\||$)")[: DISPLAYED + 1])
