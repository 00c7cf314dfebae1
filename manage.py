"""Django's command line; ``./ledger manage`` calls it with the environment prepared."""

import os
import sys

from django.core.management import execute_from_command_line

if __name__ == "__main__":
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "web.config.settings")
    execute_from_command_line(sys.argv)
