"""Django settings. One server on one machine, SQLite set up for real use, everything served from here."""

import os
from datetime import UTC, datetime
from pathlib import Path

from csp.constants import NONCE, NONE, SELF

from server.clock import ahead_of_the_machine

BASE = Path(__file__).resolve().parent.parent
DATA = Path(os.environ.get("KEELTURN_DATA", BASE / "data"))
DATA.mkdir(parents=True, exist_ok=True)
# Compiled core code is kept between runs; set before anything imports numba.
os.environ.setdefault("NUMBA_CACHE_DIR", str(BASE / ".cache" / "numba"))


def _secret_key() -> str:
    """Made on first start and kept beside the database, so that sessions outlive a restart."""
    path = DATA / "secret-key"
    if not path.exists():
        from django.core.management.utils import get_random_secret_key

        path.touch(mode=0o600)
        path.write_text(get_random_secret_key())
    return path.read_text()


SECRET_KEY = _secret_key()
DEBUG = False
ALLOWED_HOSTS = ["127.0.0.1", "localhost", *filter(None, os.environ.get("KEELTURN_HOSTS", "").split(","))]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "csp",
    "ninja",
    "server.school",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]
ROOT_URLCONF = "server.urls"
WSGI_APPLICATION = "server.wsgi.application"
TEMPLATES: list[dict[str, object]] = []

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / "keelturn.sqlite3",
        "CONN_MAX_AGE": 600,
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            "init_command": (
                "PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL; PRAGMA busy_timeout=20000; PRAGMA"
                " foreign_keys=ON;PRAGMA temp_store=MEMORY; PRAGMA journal_size_limit=67108864; PRAGMA"
                " cache_size=-20000;"
            ),
        },
        # A file, not memory: the browser tests' server and the tests share it.
        "TEST": {"NAME": DATA / "test.sqlite3"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
AUTH_USER_MODEL = "school.Person"
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 8}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]

SESSION_ENGINE = "django.contrib.sessions.backends.db"
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 14 * 24 * 3600
CSRF_COOKIE_SAMESITE = "Lax"
X_FRAME_OPTIONS = "DENY"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
SECURE_CROSS_ORIGIN_OPENER_POLICY = "same-origin"
HTTPS = os.environ.get("KEELTURN_HTTPS") == "1"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = HTTPS
# Only our own files. The nonce is for the style sheets that the interface writes at run time; no inline
# script at all.
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF, NONCE],
        "font-src": [SELF],
        "img-src": [SELF, "data:"],
        "connect-src": [SELF],
        "manifest-src": [SELF],
        "base-uri": [NONE],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
    }
}

# What answers when weather is fetched: a class with the methods of server.weather.WeatherService.
WEATHER_SERVICE = os.environ.get("KEELTURN_WEATHER", "server.weather.StandInWeather")

WEB_BUILD = BASE / "web" / "dist"
WHITENOISE_ROOT = WEB_BUILD if WEB_BUILD.exists() else None
STATIC_URL = "/static/"


def _hashed_by_the_build(path: str, url: str) -> bool:
    return url.startswith("/assets/")


WHITENOISE_IMMUTABLE_FILE_TEST = _hashed_by_the_build

USE_TZ = True
CLOCK_AHEAD = ahead_of_the_machine(os.environ.get("KEELTURN_NOW"), datetime.now(UTC))
TIME_ZONE = os.environ.get("KEELTURN_TIME_ZONE", "UTC")
LANGUAGE_CODE = "en"
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}
