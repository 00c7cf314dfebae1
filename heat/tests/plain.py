"""The year loop run as plain Python, its compiled parts exchanged for their twins."""

import numpy as np

from heat import accounts as acc
from heat.prepare import plane_sun, prepare_heaters, prepare_hours, prepare_loads, prepare_parts, store_layers
from heat.run import parts as run
from heat.run.hours import run_hours
from heat.store.ports import room_for
from heat.year import start_state


def run_both(design, weather, hours):
    """Accounts of the first hours, compiled and plain."""
    rows, _sky = prepare_hours(design, weather, plane_sun(weather, design))
    parts = prepare_parts(design, weather)
    results = []
    for function in (run_hours, _plain(run_hours)):
        books = np.zeros((acc.COLUMNS, 8760))
        traces = np.zeros((acc.TRACES, 8760))
        profiles = [np.zeros((8760, store_layers(design))), np.zeros((8760, design.reckoning.layers))]
        work = np.zeros((2, room_for(design.reckoning.layers))), np.zeros((2, run.PAGE))
        function(parts, prepare_heaters(design), prepare_loads(design), rows, 0, hours, *start_state(design, rows),
                 *work, books, traces, *profiles)  # fmt: skip
        results.append(books[:, :hours])
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
