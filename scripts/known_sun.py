"""Write heat/data/world/left_over.csv: how far the rule of rough climates is off at known places (log of map by rule).

Run after a change of the rule or of heat/data/world/atlas_ghi.csv: ``python scripts/known_sun.py``.
"""

import numpy as np
from scipy.optimize import least_squares

from heat.weather.known_sun import PLACES, atlas
from heat.weather.world import MOST_OF_CLEAR, RULE, clear_months, grid_means

DAYS = np.array([31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31])


def main() -> None:
    """Fit the rule on all places and write what it leaves over."""
    places = atlas()
    means = [grid_means(lat, lon) for lat, lon, _sun in places]
    clear = np.array([clear_months(lat, lon, m.elevation_m) for (lat, lon, _s), m in zip(places, means, strict=True)])
    terms = np.array(
        [
            [np.ones(12), np.sqrt(m.rain_mm), np.full(12, abs(lat) / 50), m.grid_air_c / 20]
            for (lat, _lon, _s), m in zip(places, means, strict=True)
        ]
    )
    yearly = lambda rule: (clear * np.minimum(np.exp(np.einsum("k,pkm->pm", rule, terms)), MOST_OF_CLEAR) * DAYS).sum(1)
    fit = least_squares(lambda rule: np.log(yearly(rule) / places[:, 2]), RULE, loss="soft_l1", f_scale=0.05).x
    print("the rule fitted:", np.round(fit, 4), "as kept:", RULE)
    left = np.log(places[:, 2] / yearly(np.array(RULE)))
    lines = ["latitude_deg,longitude_deg,log_map_by_rule"]
    lines += [f"{lat:g},{lon:g},{one:.4f}" for (lat, lon, _s), one in zip(places, left, strict=True)]
    PLACES.write_text("\n".join(lines) + "\n")


if __name__ == "__main__":
    main()
