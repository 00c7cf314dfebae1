"""Settings of the test suite: passwords hashed fast, for a suite makes hundreds of people."""

from web.config.settings import *  # noqa: F403

SIGN_UP = True
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
