"""Faults made real: the same design as it stands after something has gone wrong."""

from typing import Any

from heat.common.documents import Values
from heat.design import Design
from heat.design.place import Tree
from heat.loop.runs import loop_flow_kg_h

COOKED_TRANSFER = 0.35
"""Heat transfer a wholly spent antifreeze costs (share, no unit), 0.2 to 0.5 as deposits grow. Source: our own
estimate."""
COOKED_FLOW = 0.3
"""Flow a wholly spent antifreeze costs (share, no unit), by its viscosity and deposits. Source: our own estimate."""
TREE_IN_LEAF, TREE_BARE = 0.15, 0.6
"""Light a broad-leaved tree lets through in leaf and bare (no unit). Source: our own estimate; bare crowns pass 0.5 to
0.7, crowns in leaf 0.1 to 0.25."""


def _changed(part: Any, **values: Any) -> Any:
    """A copy of a frozen part with other values, validated anew."""
    return type(part).model_validate(part.model_dump() | values)


def faulty(design: Design) -> Design:
    """The design with its faults at work (fields in their own units, such as kg/h).

    Sensor errors, air locks, bundled pipes, the pump and the boiler that run all night are read from
    ``system.faults`` where the loop is prepared; all others change the fields they spoil.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    Design
        The design with its faults at work (fields in their own units, such as kg/h).
    """
    wrong, system, site = design.system.faults, design.system, design.site
    loop: Values = {}
    control: Values = {}
    changes: Values = {}
    flow = wrong.flow_factor * (1.0 - COOKED_FLOW * wrong.cooked)
    if flow != 1.0:
        loop["flow_kg_h"] = min(max(loop_flow_kg_h(design) * flow, 5.0), 50_000.0)
        loop["drive"] = _changed(system.loop.drive, curve=())
    if wrong.no_check_valve:
        loop["check_valve"] = False
    if wrong.store_sensor_share is not None:
        control["sensor_share"] = wrong.store_sensor_share
    if wrong.cooked > 0.0:
        left = 1.0 - COOKED_TRANSFER * wrong.cooked
        changes["coil"] = _changed(system.coil, ua_w_k=max(system.coil.ua_w_k * left, 5.0))
        changes["jacket"] = _changed(system.jacket, ua_w_k=max(system.jacket.ua_w_k * left, 5.0))
        changes["plate"] = _changed(system.plate, ua_w_k=max(system.plate.ua_w_k * left, 5.0))
    if wrong.soiling > 0.0:
        eta0 = max(system.collector.eta0 * (1.0 - wrong.soiling), 0.1)
        changes["collector"] = _changed(system.collector, eta0=eta0)
    if wrong.night_boiler:
        control["rests_with_boiler"] = False
    if loop:
        changes["loop"] = _changed(system.loop, **loop)
    if control:
        changes["control"] = _changed(system.control, **control)
    if wrong.tree_deg > 0.0:
        toward = design.plane.azimuth_deg
        leaf = Tree().leaf_months
        tree = Tree(
            from_deg=(toward - 50.0) % 360.0,
            to_deg=(toward + 50.0) % 360.0,
            altitude_deg=wrong.tree_deg,
            in_leaf=TREE_IN_LEAF,
            bare=TREE_BARE,
            leaf_months=leaf if site.latitude_deg >= 0 else leaf[6:] + leaf[:6],
        )
        site = site.model_copy(update={"trees": (*site.trees, tree)})
    return design.model_copy(update={"system": system.model_copy(update=changes), "site": site})
