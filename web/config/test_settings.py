"""Settings of the test suite: passwords hashed fast, for a suite makes hundreds of people; nothing said of each."""

from web.config.settings import *  # noqa: F403
from web.config.settings import LOGGING

SIGN_UP = True
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
LOGGING = {**LOGGING, "loggers": {**LOGGING["loggers"], "web.security": {"level": "WARNING"}}}
WHITENOISE_AUTOREFRESH = True
"""Files are looked for when they are asked for: every test's client would list them all again."""

AT_ONCE_S = 60.0  # what is answered at once does not depend on how busy a machine is
WEB_PORT = "8000"  # what links in mails say does not depend on where a test runs
