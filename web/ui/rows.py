"""What a template reads of one line, column or picture: templates have no types, so these end here."""

from typing import Any

Row = dict[str, Any]
"""Names and what a template shows for them."""
