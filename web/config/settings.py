"""Settings. Secrets and ports are read from the state folder that ./ledger makes."""

import os
from pathlib import Path
from typing import Any

from csp.constants import NONE, SELF

ROOT = Path(__file__).resolve().parents[2]
STATE = Path(os.environ.get("LEDGER_STATE", ROOT / ".local"))


def _state(name: str, fallback: str = "") -> str:
    path = STATE / name
    return path.read_text().strip() if path.exists() else fallback


SECRET_KEY = os.environ.get("LEDGER_SECRET_KEY") or _state("secret.key")
DEBUG = os.environ.get("LEDGER_DEBUG") == "1"
ALLOWED_HOSTS = os.environ.get("LEDGER_HOSTS", "127.0.0.1,localhost").split(",")
PUBLIC_URL = os.environ.get("LEDGER_URL", "")
"""Where this server is found from outside, such as https://heat.example: the start of links in mails."""
WEB_PORT = os.environ.get("LEDGER_PORT", "8000")
HTTPS = os.environ.get("LEDGER_HTTPS") == "1"
BEHIND_PROXY = os.environ.get("LEDGER_PROXY") == "1"
"""Whether a proxy of ours stands in front: then whom it says it speaks for is believed."""
ON_LOOPBACK = os.environ.get("LEDGER_BIND", "127.0.0.1") in ("127.0.0.1", "::1", "localhost")
"""Whether only programs of this machine reach the server."""

STEPS = (
    "web.steps.demand",
    "web.steps.site",
    "web.steps.scheme",
    "web.steps.year",
    "web.steps.weigh",
    "web.steps.money",
    "web.steps.cautions",
    "web.steps.log",
    "web.steps.paper",
)
"""The steps of the work, in their order: each a folder with a step.py."""
INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "whitenoise.runserver_nostatic",
    "django.contrib.postgres",
    "django.contrib.staticfiles",
    "csp",
    "axes",
    "django_otp",
    "django_otp.plugins.otp_totp",
    "web.places",
    "web.accounts",
    "web.firms",
    "web.projects",
    "web.jobs.apps.JobsConfig",
    "web.jobs.apps.JobsTablesConfig",
    "web.catalogue",
    "web.prices",
    "web.reports",
    "web.logs",
    "web.ui",
    "web.editor",
    "web.presentation",
    *STEPS,
    "web.workspace",
    "web.api",
    "web.demo",
    "web.backup",
]
MIDDLEWARE = [
    "web.config.health.health_first",
    "web.config.limits.real_address",
    "web.config.request_log.watched",
    "web.config.metrics.measured",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "web.config.limits.limits",
    "web.config.limits.seldom",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django_otp.middleware.OTPMiddleware",
    "django.contrib.auth.middleware.LoginRequiredMiddleware",
    "web.accounts.sessions.still_here",
    "web.accounts.middleware.own_writing",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "web.config.limits.never_cached",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "web.config.urls"
WSGI_APPLICATION = "web.config.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "OPTIONS": {
            "loaders": [("django.template.loaders.cached.Loader", ["web.ui.loader.Loader"])],
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
            ],
        },
    }
]
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "NAME": os.environ.get("LEDGER_DB_NAME", "ledger"),
        "USER": "ledger",
        "PASSWORD": os.environ.get("LEDGER_DB_PASSWORD") or _state("db.password"),
        "HOST": os.environ.get("LEDGER_DB_HOST", "127.0.0.1"),
        "PORT": os.environ.get("LEDGER_DB_PORT") or _state("db.port", "0"),  # never a port that may be somebody else's
        "CONN_MAX_AGE": 60,
        "CONN_HEALTH_CHECKS": True,
        # A database host that is gone without a word is given up after some ten seconds, not a quarter of an hour.
        "OPTIONS": {
            "connect_timeout": 5,
            "keepalives_idle": 5,
            "keepalives_interval": 2,
            "keepalives_count": 3,
            "tcp_user_timeout": 10_000,
            # And the database gives up a web host that is gone as soon, with what it had locked.
            "options": "-c tcp_user_timeout=10000 -c tcp_keepalives_idle=5 -c tcp_keepalives_interval=2 "
            "-c tcp_keepalives_count=3 -c idle_in_transaction_session_timeout=120000",
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
AUTH_USER_MODEL = "accounts.User"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 12}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "web.accounts.passwords.NotEndless"},
]
AUTHENTICATION_BACKENDS = [
    "web.accounts.backends.AddressGuard",
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
PASSWORD_HASHERS = ["web.accounts.backends.OneAtATime"]
AXES_FAILURE_LIMIT = 8
AXES_COOLOFF_TIME = 0.25  # hours
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_LOCKOUT_TEMPLATE = "accounts/locked.html"
AXES_VERBOSE = False
SIGN_UP = os.environ.get("LEDGER_SIGN_UP") == "1"
"""Whether strangers may open accounts: only the demo says so by itself."""
GRACE_DAYS = 30
"""Days in which what was deleted may be brought back."""
EMAIL_BACKEND = f"django.core.mail.backends.{'smtp' if os.environ.get('LEDGER_SMTP_HOST') else 'console'}.EmailBackend"
EMAIL_HOST = os.environ.get("LEDGER_SMTP_HOST", "")
EMAIL_PORT = int(os.environ.get("LEDGER_SMTP_PORT", "587"))
EMAIL_HOST_USER = os.environ.get("LEDGER_SMTP_USER", "")
EMAIL_HOST_PASSWORD = os.environ.get("LEDGER_SMTP_PASSWORD", "")
EMAIL_USE_TLS = bool(EMAIL_HOST)
DEFAULT_FROM_EMAIL = os.environ.get("LEDGER_MAIL_FROM", "red-ledger@localhost")
LOGIN_URL = "sign-in"
LOGIN_REDIRECT_URL = "projects"
LOGOUT_REDIRECT_URL = "sign-in"

LANGUAGE_CODE = "en"
TIME_ZONE = "UTC"
USE_I18N = False
USE_TZ = True

STATIC_URL = "/static/"
STATIC_ROOT = STATE / "static"


def _for_pages(headers: Any, path: str, url: str) -> None:
    """A service worker that lies among the static files may serve the projects' pages."""
    if "/log/offline" in url:
        headers["Service-Worker-Allowed"] = "/projects/"


WHITENOISE_ADD_HEADERS_FUNCTION = _for_pages
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "web.ui.storage.ModuleStorage"},
}

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "font-src": [SELF],
        "connect-src": [SELF],
        "form-action": [SELF],
        "img-src": [SELF, "data:"],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
    }
}
SESSION_COOKIE_AGE = 3600 * int(os.environ.get("LEDGER_SESSION_HOURS", "720"))
OTP_TOTP_ISSUER = "Red Ledger"
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
SECURE_REFERRER_POLICY = "same-origin"
SECURE_SSL_REDIRECT = HTTPS
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if HTTPS else None
SESSION_COOKIE_SECURE = HTTPS
SESSION_COOKIE_NAME = "__Host-sessionid" if HTTPS else "sessionid"
PASSWORD_RESET_TIMEOUT = 3600
CSRF_COOKIE_SECURE = HTTPS
SECURE_HSTS_SECONDS = 31_536_000 if HTTPS else 0
SECURE_HSTS_INCLUDE_SUBDOMAINS = HTTPS
SECURE_HSTS_PRELOAD = HTTPS

AT_ONCE_S = 0.4
"""How long a question of some years may be worked on within the request that asks it (s); a worker does the rest."""
WEATHER_UPLOAD_LIMIT = 12 * 1024 * 1024
QUOTA = 200 * 1024 * 1024  # bytes of uploads a person may keep
FIRM_QUOTA = 4 * 1024 * 1024 * 1024  # and a firm
BODY_LIMIT = 2 * WEATHER_UPLOAD_LIMIT  # a file somewhat too large is refused on its page; more is not read at all
DATA_UPLOAD_MAX_MEMORY_SIZE = WEATHER_UPLOAD_LIMIT
FILE_UPLOAD_MAX_MEMORY_SIZE = WEATHER_UPLOAD_LIMIT

TEST_RUNNER = "web.config.runner.CountingRunner"
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "filters": {"reference": {"()": "web.config.request_log.Reference"}},
    "formatters": {
        "json": {"()": "web.config.request_log.AsJson"},
        "plain": {"format": "%(asctime)s %(levelname)s %(reference)s %(name)s: %(message)s"},
    },
    "handlers": {
        "console": {
            "class": "logging.StreamHandler",
            "filters": ["reference"],
            "formatter": "json" if os.environ.get("LEDGER_LOG") == "json" else "plain",
        }
    },
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {
        "django.request": {"level": "ERROR"},
        "web.security": {"level": "INFO"},
        "django.security.DisallowedHost": {"handlers": [], "propagate": False},  # answered with 400, reported to nobody
    },
}
