"""Settings of a second server that tests start and kill: the test's own database, static files as they lie."""

import os

from web.config.test_settings import *  # noqa: F403
from web.config.test_settings import DATABASES, STORAGES

DATABASES["default"]["NAME"] = os.environ["LEDGER_TEST_DATABASE"]
STORAGES["staticfiles"] = {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}
WHITENOISE_USE_FINDERS = True
WHITENOISE_AUTOREFRESH = True
