"""The year loop run as plain Python, its compiled parts exchanged for their twins."""

import numpy as np

from heat.ledger import accounts as acc
from heat.simulation import parts as run
from heat.simulation.hours import run_hours, run_plain_hours
from heat.simulation.plain import is_plain
from heat.simulation.prepare import prepare_hours, prepare_parts
from heat.simulation.prepare_uses import prepare_heaters, prepare_loads
from heat.simulation.year import column_of, start_state
from heat.store.ports import room_for
from heat.store.vessel import store_layers, store_volume_l
from heat.sun.site import plane_sun


def run_both(design, weather, hours):
    """Accounts of the first hours, compiled and plain."""
    rows, _sky = prepare_hours(design, weather, plane_sun(weather, design))
    parts = prepare_parts(design, weather)
    layers = design.numerics.layers
    results = []
    for function in (run_plain_hours if is_plain(parts) else run_hours, _plain(run_hours)):
        books = np.zeros((acc.COLUMNS, 8760))
        traces = np.zeros((acc.TRACES, 8760))
        profiles = [np.zeros((8760, store_layers(design))), np.zeros((8760, layers))]
        columns = [
            column_of(store_layers(design), store_volume_l(design), design.system.store.start_c),
            column_of(layers, design.system.second_store.total_volume_l, design.system.second_store.start_c),
        ]
        work = np.zeros((2, room_for(layers))), np.zeros((2, run.NO_TOTALS))
        function(
            parts,
            prepare_heaters(design),
            prepare_loads(design),
            rows,
            0,
            hours,
            start_state(design, rows, parts, 24 * (design.numerics.first_day - 1)),
            np.zeros(4),
            *columns,
            *work,
            books,
            traces,
            *profiles,
        )
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
    return types.FunctionType(function.__code__, names, function.__name__, function.__defaults__, function.__closure__)
