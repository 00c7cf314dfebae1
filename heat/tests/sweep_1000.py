"""1,000 designs on 100 planes: seconds and peak memory, for the bench. Run as a process of its own."""

import json
import resource
import sys
from time import perf_counter

from heat.simulation.year import simulate
from heat.studies.sweep import grid, sweep
from heat.tests.samples import case_design, tmy3


def main(volumes: int) -> None:
    weather = tmy3()
    simulate(case_design(), weather)
    points = grid(
        plane__tilt_deg=list(range(15, 65, 5)),
        plane__azimuth_deg=list(range(135, 235, 10)),
        system__store__volume_l=[200 + 50 * i for i in range(volumes)],
    )
    start = perf_counter()
    outcomes = sweep(case_design(), weather, points, workers=2)
    taken = perf_counter() - start
    assert len(outcomes) == len(points)
    assert not any(o.refused for o in outcomes)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(json.dumps({"designs": len(points), "seconds": taken, "peak_mb": peak}))


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 10)
