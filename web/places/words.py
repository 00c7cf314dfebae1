"""Names as they are searched: small letters without accents or signs."""

import re
import unicodedata

ALIKE = str.maketrans({"ß": "ss", "ł": "l", "ø": "o", "đ": "d", "æ": "ae", "œ": "oe", "ı": "i", "þ": "th", "ð": "d"})
"""Letters that no decomposition turns into plain ones."""


def folded(text: str) -> str:
    """A name in small letters, without accents, its words parted by single spaces."""
    plain = unicodedata.normalize("NFKD", text.casefold())
    bare = "".join(sign for sign in plain if not unicodedata.combining(sign)).translate(ALIKE)
    return " ".join(re.sub(r"[^\w]+|_", " ", bare).split())
