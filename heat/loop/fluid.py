"""Heat-transfer fluids: propylene glycol and water, by share of volume and temperature."""

from functools import cache
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
from scipy.interpolate import RegularGridInterpolator

TABLE = Path(__file__).parent.parent / "data" / "propylene_glycol.csv"
PROPERTIES = ("density_kg_m3", "heat_capacity_j_kgk", "viscosity_mpas", "conductivity_w_mk")


@cache
def _table() -> pd.DataFrame:
    return pd.read_csv(TABLE, comment="#")


@cache
def _interpolator(name: str) -> Any:
    grid = _table().pivot(index="glycol_percent", columns="temperature_c", values=name)
    return RegularGridInterpolator(
        (grid.index.to_numpy(float), grid.columns.to_numpy(float)),
        grid.to_numpy(float),
        bounds_error=False,
        fill_value=None,
    )


def fluid_property(name: str, glycol_percent: float, temperature_c: float) -> float:
    """A property of glycol and water: density (kg/m³), heat capacity (J/kgK), viscosity (mPa s) or
    conductivity (W/mK), at 0 to 60 % glycol by volume and 0 to 100 °C.

    Linear between tabulated points. Raises KeyError for an unknown name.
    Reference: Melinder (2010), Properties of Secondary Working Fluids, IIR; tabulated once.
    """
    if name not in PROPERTIES:
        raise KeyError(f"{name}: known are {', '.join(PROPERTIES)}")
    return float(_interpolator(name)((glycol_percent, temperature_c)))


def freezing_point_c(glycol_percent: float) -> float:
    """Temperature (°C) at which the first ice forms, 0 to 60 % glycol by volume.

    Linear between tabulated points. Reference: Melinder (2010), as above.
    """
    column = _table().drop_duplicates("glycol_percent")
    return float(np.interp(glycol_percent, column["glycol_percent"], column["freezing_c"]))
