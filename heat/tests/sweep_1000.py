"""1,000 designs on 100 planes: seconds and peak memory, for the bench. Run as a process of its own."""

import json
import resource
import sys
from itertools import product
from time import perf_counter

from heat.design.changing import varied
from heat.simulation.year import simulate
from heat.studies.outcome import evaluate_designs
from heat.tests.samples import case_design, tmy3


def main(volumes: int) -> None:
    weather = tmy3()
    simulate(case_design(), weather)
    document = case_design().model_dump(mode="json")
    axes = (range(15, 65, 5), range(135, 235, 10), [200 + 50 * i for i in range(volumes)])
    paths = ("plane.tilt_deg", "plane.azimuth_deg", "system.store.volume_l")
    designs = [varied(document, dict(zip(paths, values, strict=True))) for values in product(*axes)]
    start = perf_counter()
    outcomes = evaluate_designs(designs, weather, workers=2)
    taken = perf_counter() - start
    assert len(outcomes.figures) == len(designs)
    assert not outcomes.refused
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(json.dumps({"designs": len(designs), "seconds": taken, "peak_mb": peak}))


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 10)
