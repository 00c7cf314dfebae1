"""The year loop run as plain Python, its compiled parts exchanged for their twins."""

import numpy as np

from heat import accounts as acc
from heat.year import plane_sun, prepare_hours, prepare_parts, run_year


def run_both(design, weather, hours):
    """Accounts of the first hours, compiled and plain."""
    inputs = prepare_hours(design, weather, plane_sun(weather, design))
    parts = prepare_parts(design)
    results = []
    for run in (run_year, _plain(run_year)):
        books = np.zeros((hours, acc.COLUMNS))
        traces = np.zeros((hours, acc.TRACES))
        profile = np.zeros((hours, design.reckoning.layers))
        run(parts, inputs.absorbed_w_m2[:hours], inputs.air_c, inputs.mains_c, inputs.draw_l, inputs.element_on, 20.0,
            np.zeros((4, design.reckoning.layers + 6)), books, traces, profile)  # fmt: skip
        results.append(books)
    return results


def _plain(kernel):
    """The Python function behind a kernel, with plain twins of every kernel it calls."""
    import types

    function = kernel.py_func
    names = dict(function.__globals__)
    for name in function.__code__.co_names:
        called = names.get(name)
        if hasattr(called, "py_func"):
            names[name] = _plain(called)
    return types.FunctionType(function.__code__, names, function.__name__, function.__defaults__)
