"""Reading coordinates as a person types them: one angle with its side, or both of a place."""

import re

NUMBER = r"\d+(?:[.,]\d+)?"
ONE = re.compile(
    rf"\s*([NSEW])?\s*([-+−]?)\s*({NUMBER})\s*(?:°|º|d|\s)?\s*(?:({NUMBER})\s*['′’m]?\s*(?:({NUMBER})\s*(?:\"|″|”|''|s)?)?)?"
    r"\s*([NSEW])?\s*",
    re.IGNORECASE,
)
SIDES = {"latitude_deg": "NS", "longitude_deg": "EW"}
WORDS = {"NS": "A latitude lies north or south", "EW": "A longitude lies east or west"}
PLAIN = rf"[-+−]?{NUMBER}"


def angle(text: str, sides: str = "NSEW") -> float | None:
    """Degrees, minutes, seconds such as “46° 24' 30" N”, “46 24.5 S” or “11.6 W” as decimal degrees; None for others.

    Raises ValueError with the words for a page: minutes beyond 60, a sign beside a side, a side of the other angle.
    """
    found = ONE.fullmatch(text)
    if not found or not (found[4] or found[1] or found[6] or "°" in text or "º" in text):
        return None
    side = (found[1] or found[6] or "").upper()
    if found[1] and found[6]:
        raise ValueError(f"“{text.strip()[:30]}”: give its side once.")
    if side and found[2]:
        raise ValueError(f"“{text.strip()[:30]}”: give a sign or a side ({side}), not both.")
    if side and side not in sides:
        raise ValueError(f"“{text.strip()[:30]}”: {WORDS[sides]}.")
    degrees, minutes, seconds = (float((part or "0").replace(",", ".")) for part in found.group(3, 4, 5))
    if minutes >= 60 or seconds >= 60:
        raise ValueError("Minutes and seconds run from 0 to 60.")
    size = degrees + minutes / 60.0 + seconds / 3600.0
    return -size if side in ("S", "W") or found[2] in ("-", "−") else size


def both(text: str) -> tuple[float, float] | None:
    """Latitude and longitude (deg) of a place such as “46.4, 11.6”, “46° 24' N 11° 36' E” or “E 11.6 N 46.4”; None for
    what is no pair.

    Raises ValueError with the words for a page where it is one that cannot be.
    """
    first, second = _halves(text)
    if not second:
        return None
    if re.search("[EW]", first, re.IGNORECASE) and re.search("[NS]", second, re.IGNORECASE):
        first, second = second, first
    latitude, longitude = _value(first, "NS"), _value(second, "EW")
    if latitude is None or longitude is None:
        return None
    if abs(latitude) > 90:
        raise ValueError(f"“{first.strip()[:30]}”: a latitude lies within 90° of the equator.")
    if abs(longitude) > 180:
        raise ValueError(f"“{second.strip()[:30]}”: a longitude lies within 180°.")
    return latitude, longitude


def _value(text: str, sides: str) -> float | None:
    found = angle(text, sides)
    if found is None and re.fullmatch(rf"\s*{PLAIN}\s*", text):
        found = float(text.strip().replace(",", ".").replace("−", "-"))
    return found


def _halves(text: str) -> tuple[str, str]:
    """The two angles of a pair; the second is empty where there is none."""
    for pattern in (
        r"(.*\d.*?[NSEW])[\s,;]+([-+−\d].*[NSEW])",  # sides after
        r"([NSEW].*?\d.*?)[\s,;]+([NSEW].*\d.*)",  # sides before
        rf"\s*({PLAIN})\s*;\s*({PLAIN})\s*",
        rf"\s*({PLAIN}°?),\s+({PLAIN}°?)\s*",
        rf"\s*({PLAIN}°?)\s+({PLAIN}°?)\s*",
        r"\s*([-+−]?\d+\.\d+),([-+−]?\d+\.\d+)\s*",
        r"\s*([-+−]?\d+),([-+−]\d+)\s*",
    ):
        found = re.fullmatch(pattern, text, re.IGNORECASE)
        if found and re.search(r"\d", found[1]) and re.search(r"\d", found[2]):
            return found[1], found[2]
    return text, ""
