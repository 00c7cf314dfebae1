"""HTML to PDF: nothing is fetched but the fonts that ship with the application; the same page gives the same bytes."""

import os
import re
from functools import cache
from io import BytesIO
from pathlib import Path
from typing import Any

os.environ.setdefault("SOURCE_DATE_EPOCH", "0")
"""Fonts that are cut to what a report uses carry no time of the day: the same page gives the same bytes."""
FONTS = Path(__file__).resolve().parents[1] / "ui" / "static" / "ui" / "fonts"
STYLE = Path(__file__).with_name("report.css")
FONT_SCHEME = "font:"
DRAWN = (
    "<style>text{font-family:'Source Sans 3';font-size:12.5px;font-weight:400;fill:#484C48}"
    "text.ink,tspan.ink{font-weight:600;fill:#1A2124}"
    "text.name,tspan.name{font-family:Besley;font-size:14px;font-style:italic;font-weight:500;fill:#1A2124}"
    "text.red{fill:#AD1220}text.tick{font-size:11px}.height{display:none}</style>"
)
"""Styles of pictures: those of the page do not reach into them."""
SIZES = {"A4": "A4", "Letter": "letter", "A3": "A3"}
"""Papers, as style sheets name them."""


@cache
def _font(name: str) -> bytes:
    """A font of ours as a report takes it: unpacked once, not for every report."""
    from fontTools.ttLib.woff2 import decompress

    plain = BytesIO()
    decompress(BytesIO((FONTS / name).read_bytes()), plain)
    return plain.getvalue()


def render_pdf(html: str, paper: str = "A4", landscape: bool = False) -> bytes:
    """A tagged PDF with bookmarks of a whole page of HTML, on A4, A3 or Letter."""
    from weasyprint import CSS, HTML  # only where a report is made
    from weasyprint.text.fonts import FontConfiguration
    from weasyprint.urls import FatalURLFetchingError, URLFetcher, URLFetcherResponse

    class Shipped(URLFetcher):  # type: ignore[misc]
        """Fonts of ours, and pictures that stand in the page itself."""

        def fetch(self, url: str, headers: Any = None) -> Any:
            if url.startswith("data:"):
                return super().fetch(url, headers)
            name = url.removeprefix(FONT_SCHEME)
            if url.startswith(FONT_SCHEME) and (FONTS / name).parent == FONTS and (FONTS / name).is_file():
                return URLFetcherResponse(url, _font(name), {"Content-Type": "font/ttf"})
            raise FatalURLFetchingError(f"Nothing is fetched for a report: {url[:80]}")

    html = re.sub(r"(<svg\b[^>]*>)", lambda found: found[1] + DRAWN, html)
    fonts, fetcher = FontConfiguration(), Shipped()
    size = f"@page {{ size: {SIZES[paper]}{' landscape' if landscape else ''} }}"
    css = [CSS(string=STYLE.read_text() + size, font_config=fonts, url_fetcher=fetcher)]
    made = HTML(string=html, url_fetcher=fetcher).write_pdf(
        stylesheets=css, font_config=fonts, pdf_variant="pdf/ua-1", uncompressed_pdf=False
    )
    return bytes(made)
