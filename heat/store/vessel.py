"""A store as a vessel: its volume, shape, loss and boiling point."""

from math import log10, pi

from heat.design import Design, Store


def boiling_point_c(pressure_pa: float) -> float:
    """Boiling point of water (°C) at a pressure (Pa), 50 to 110 kPa: Antoine, ``1730.63/(8.07131 - lg p) - 233.426``.

    p in mmHg.

    Parameters
    ----------
    pressure_pa
        Pressure (Pa).

    Returns
    -------
    float
        Boiling point of water (°C).

    References
    ----------
    Antoine constants for 1 to 100 °C, Dortmund Data Bank.
    """
    return 1730.63 / (8.07131 - log10(pressure_pa / 133.322)) - 233.426


def store_volume_l(design: Design) -> float:
    """Water in the first store (L); of a bag, its depth times the collectors' area; of tanks or tubes of known
    measures these.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    float
        Water in the first store (L).
    """
    part = design.system.integral
    if design.system.kind == "bag":
        return design.system.collector.total_area_m2 * part.depth_mm
    if design.system.scheme.driven_by == "none" and part.diameter_mm is not None and part.length_m is not None:
        return design.system.collector.count * part.vessels * pi / 4.0 * part.diameter_mm**2 / 1000.0 * part.length_m
    return design.system.store.volume_l


def store_layers(design: Design) -> int:
    """Layers of the first store (1): a bag lies flat and has three at most.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    int
        Layers of the first store (1).
    """
    return min(design.numerics.layers, 3) if design.system.kind == "bag" else design.numerics.layers


def lit_share(design: Design) -> float:
    """Share of the light behind the glass that meets the vessels (no unit): their own width, and what the gaps throw
    back.

    Of a bag, and where no measures are known, all of it.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    float
        Share of the light behind the glass that meets the vessels (no unit).
    """
    part, area = design.system.integral, design.system.collector.area_m2
    if design.system.kind == "bag" or part.diameter_mm is None or part.length_m is None:
        return 1.0
    covered = min(part.vessels * part.diameter_mm / 1000.0 * part.length_m / area, 1.0)
    return covered + (1.0 - covered) * part.gap_reflects


def back_loss_w_k(design: Design) -> float:
    """Loss through back and sides of all collectors that hold their water (W/K): per area as typed, or through the
    insulation of a case as deep as its water and as wide as its glass, with a film of 8 W/m²K.

    Parameters
    ----------
    design
        The design.

    Returns
    -------
    float
        Loss through back and sides of all collectors that hold their water (W/K): per area as typed, or through
        the insulation of a case as deep as its water and as wide as its glass, with a film of 8 W/m²K.
    """
    part, collector = design.system.integral, design.system.collector
    if part.insulation_mm is None:
        return part.back_w_m2k * collector.total_area_m2
    deep_m = (part.depth_mm if part.diameter_mm is None or design.system.kind == "bag" else part.diameter_mm) / 1000.0
    surface = collector.area_m2 + 4.0 * collector.area_m2**0.5 * deep_m
    return collector.count * surface / (part.insulation_mm / 1000.0 / part.insulation_w_mk + 1.0 / 8.0)


def store_shape(store: Store, volume_l: float) -> tuple[float, float]:
    """Width and height of a round store (m) of volume_l (L).

    Parameters
    ----------
    store
        The store.
    volume_l
        Volume (L).

    Returns
    -------
    tuple[float, float]
        Width and height of a round store (m) of volume_l (L).
    """
    width = (4.0 * volume_l / 1000.0 / (pi * store.height_to_width)) ** (1.0 / 3.0)
    return width, width * store.height_to_width


def flat_end_share(store: Store, volume_l: float) -> float:
    """Share of a flat store's surface that is its top, or its floor (no unit); 0 for one as high as it is wide, whose
    sides lose most.

    Volume (L).

    Parameters
    ----------
    store
        The store.
    volume_l
        Volume (L).

    Returns
    -------
    float
        Share of a flat store's surface that is its top, or its floor (no unit); 0 for one as high as it is
        wide, whose sides lose most.
    """
    width, height = store_shape(store, volume_l)
    return width / (4.0 * height + 2.0 * width) if height < width else 0.0


def store_loss_w_k(store: Store, volume_l: float) -> float:
    """Loss of a store (W/K): UA as typed, or from its insulation over its surface with a film of 8 W/m²K.

    Parameters
    ----------
    store
        The store.
    volume_l
        Volume (L).

    Returns
    -------
    float
        Loss of a store (W/K).
    """
    if store.insulation_mm is None:
        return store.loss_w_k
    width, height = store_shape(store, volume_l)
    surface = pi * width * height + pi * width**2 / 2.0
    return surface / (store.insulation_mm / 1000.0 / store.insulation_w_mk + 1.0 / 8.0)
