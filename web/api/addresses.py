"""What the addresses of the interface have in common."""

from typing import Annotated

from ninja import Path

Number = Annotated[int, Path(ge=0, le=2**62)]
Letter = Annotated[str, Path(max_length=1)]


def file_of(kind: str) -> dict[str, object]:
    """What the document says of an address that answers with a file."""
    return {"responses": {200: {"description": "the file", "content": {kind: {"schema": {"type": "string"}}}}}}
