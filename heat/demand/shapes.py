"""Shapes of the day to start from: how a household's hot water spreads over its hours."""

SHAPES: dict[str, tuple[float, ...]] = {
    "morning house": (0, 0, 0, 0, 1, 4, 14, 18, 10, 4, 2, 2, 3, 2, 1, 1, 2, 3, 5, 4, 3, 2, 1, 0),
    "evening house": (0, 0, 0, 0, 0, 1, 4, 6, 3, 2, 2, 3, 4, 2, 2, 2, 4, 8, 14, 16, 12, 8, 4, 1),
    "all day": (1, 1, 1, 1, 1, 2, 5, 6, 6, 6, 6, 6, 6, 6, 6, 6, 6, 6, 6, 6, 5, 4, 2, 1),
    "profile M": (
        0, 0, 0, 0, 0, 0, 0, 161, 42, 21, 10.5, 21, 31.5, 0, 10.5, 10.5, 10.5, 0, 31.5, 10.5, 73.5, 150.5, 0, 0,
    ),
    "profile L": (
        0, 0, 0, 0, 0, 0, 0, 171.5, 392, 21, 10.5, 21, 31.5, 0, 10.5, 10.5, 10.5, 0, 31.5, 10.5, 73.5, 371, 0, 0,
    ),
}  # fmt: skip
"""Parts of the day's water by hour (no unit). Three kinds of household: our own; EU 814/2013, annex III, for the
profiles."""
