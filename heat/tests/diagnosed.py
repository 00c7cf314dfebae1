"""How often the truth is found: python -m heat.tests.diagnosed 200 [first] prints a table by fault."""

import sys
from collections import defaultdict

from heat.design import parse
from heat.monitoring.diagnosis import diagnose
from heat.monitoring.measured_days import weather_of
from heat.tests.made_logs import made_case
from heat.tests.samples import climate


def main(count: int, begin: int = 0) -> None:
    weather, places = climate("merrow_coast"), defaultdict(list)
    for number in range(begin, begin + count):
        document, sizes, log = made_case(number, weather)
        ranks = [cause.keys for cause in diagnose(log, document, weather_of(log, parse(document), weather))]
        key = tuple(sizes)
        place = ranks.index(key) if key in ranks else 99
        places[key].append(place)
        if place:
            print(
                number, document["system"]["kind"], sizes or "sound", "place", place + 1, "behind", ranks[0] or "sound"
            )
    every = [place for row in places.values() for place in row]
    print(
        f"{len(every)} logs: first {sum(p == 0 for p in every)}, among three {sum(p < 3 for p in every)}, "
        f"false alarms {sum(p > 0 for p in places[()])} of {len(places[()])}"
    )
    for key, row in sorted(places.items(), key=str):
        print(f"{', '.join(key) or 'sound':<12}{len(row):>4}{sum(p == 0 for p in row):>4}{sum(p < 3 for p in row):>4}")


if __name__ == "__main__":
    main(*(int(word) for word in sys.argv[1:]))
