"""Checks that wait for a value of the place: neither a caution nor found well."""

from heat.design import Design
from heat.sizing.vessel import expansion_vessel
from web.editor.design_page import DesignPage


def surveyed(design: Design) -> bool:
    """Whether the collectors stand on a plane whose load was surveyed."""
    return any(plane.key == design.plane.on for plane in design.site.planes)


def not_looked_at(page: DesignPage) -> list[dict[str, str]]:
    """What is missing by name: the value to type, and the address of the step that takes it."""
    design = page.parsed
    exposure, safety, vessel = design.exposure, design.safety, expansion_vessel(design)
    load, pressure, hygiene = (f"cautions?view={view}" for view in ("load", "pressure", "hygiene"))
    rows = [
        ("Wind", exposure.wind_m_s is None, "the reference wind of the local code", load),
        ("Snow", exposure.snow_kg_m2 is None, "the snow on the ground by the local code", load),
        ("Weight", not surveyed(design), "the plane they stand on, and what it carries", "site?view=planes"),
        ("Dead leg", design.demand.hot_water and safety.branch_m is None, "the longest pipe to a tap", hygiene),
        ("Vessel", vessel is not None and not safety.vessel_l, "the vessel that is fitted", pressure),
    ]
    return [{"name": name, "text": text, "at": at} for name, missing, text, at in rows if missing]
