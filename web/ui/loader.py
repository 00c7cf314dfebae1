"""Templates as served: without the indentation that is for those who read them."""

import re

from django.template import Origin
from django.template.loaders import app_directories

INDENT = re.compile(r"^[ \t]+", re.MULTILINE)


class Loader(app_directories.Loader):
    """Templates of the applications, a third lighter; lines stay, so that an error names the right one."""

    def get_contents(self, origin: Origin) -> str:
        """Text of a template."""
        return INDENT.sub("", super().get_contents(origin))
