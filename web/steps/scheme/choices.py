"""What is chosen at one touch on the drawing: another kind, an entry of the catalogue, a part added or left out."""

from heat.catalogue import GROUPS
from heat.common.documents import Document, Values
from heat.design.changing import kind_changes
from web.accounts.models import User
from web.catalogue.services import entry_of
from web.editor.step import Choice
from web.steps.scheme.alternatives import entry_changes, switch_changes


def _entry(document: Document, rest: str, user: User) -> Values:
    """The changes that take an entry, by “group key”. KeyError for an unknown one."""
    group, _, key = rest.partition(" ")
    if group not in GROUPS:
        raise KeyError(rest)
    return entry_changes(document, entry_of(user, group, key))


CHOICES: dict[str, Choice] = {
    "kind ": lambda document, kind, user: kind_changes(document, kind),
    "entry ": _entry,
    "switch ": lambda document, name, user: switch_changes(document, name),
}
