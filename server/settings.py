"""Django settings. One server on one machine, SQLite set up for real use, everything served from here."""

import os
from contextlib import suppress
from datetime import UTC, datetime, timedelta
from pathlib import Path

from csp.constants import NONCE, NONE, SELF

from server import mail
from server.backups import folder_of
from server.clock import ahead_of_the_machine

BASE = Path(__file__).resolve().parent.parent
DATA = Path(os.environ.get("KEELTURN_DATA", BASE / "data"))
# Archives that are made by themselves stand apart from those that somebody makes: only they are let go again.
SCHEDULED = Path(os.environ.get("BACKUPS") or folder_of(DATA)) / "scheduled"
BACKUP_EVERY_H = float(os.environ.get("KEELTURN_BACKUP_H", "24"))
# Whether a process counts what everybody looks at first before they ask.
COUNT_AHEAD = os.environ.get("KEELTURN_AHEAD") != "0"
# The database, the key and recordings are readable by their owner only.
os.umask(0o077)
DATA.mkdir(parents=True, exist_ok=True)
for path in (*DATA.glob("*.sqlite3*"), *DATA.glob("secret-key*")):
    path.chmod(0o600)
# Compiled core code is kept between runs; set before anything imports numba.
os.environ.setdefault("NUMBA_CACHE_DIR", str(BASE / ".cache" / "numba"))


def _secret_key() -> str:
    """Made on first start and kept beside the database, so that sessions outlive a restart: written whole
    under another name first, then put there, unless another process was faster."""
    path = DATA / "secret-key"
    if not path.exists() or not path.read_text():
        from django.core.management.utils import get_random_secret_key

        path.unlink(missing_ok=True)
        fresh = path.with_name(f"secret-key.{os.getpid()}")
        fresh.touch(mode=0o600)
        fresh.write_text(get_random_secret_key())
        with suppress(FileExistsError):
            os.link(fresh, path)
        fresh.unlink()
    return path.read_text()


SECRET_KEY = _secret_key()
DEBUG = False
HOSTS = [*filter(None, os.environ.get("KEELTURN_HOSTS", "").split(","))]
ALLOWED_HOSTS = ["127.0.0.1", "localhost", *HOSTS]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "axes",
    "csp",
    "django_otp",
    "django_otp.plugins.otp_totp",
    "django_otp.plugins.otp_static",
    "ninja",
    "server.school",
]
MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "server.files.BuiltFiles",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "server.sessions.Seen",
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
            # Each thread of each process has a connection of its own, some eighty in all: what one keeps, in
            # statements here and in pages of two megabytes below, it keeps eighty times. The system keeps
            # pages of the file for all.
            "cached_statements": 64,
            "init_command": (
                "PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL; PRAGMA busy_timeout=20000; PRAGMA"
                " foreign_keys=ON;PRAGMA temp_store=MEMORY; PRAGMA journal_size_limit=67108864; PRAGMA"
                " cache_size=-2000;"
            ),
        },
    }
}
CACHES = {
    "default": {"BACKEND": "django.core.cache.backends.locmem.LocMemCache"},
    # Shared by the processes (server/recalled.py).
    "computed": {
        "BACKEND": "django.core.cache.backends.filebased.FileBasedCache",
        "LOCATION": DATA / "computed",
        "TIMEOUT": None,
        "OPTIONS": {"MAX_ENTRIES": 4000},
    },
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
AUTH_USER_MODEL = "school.Person"
_RULES = "django.contrib.auth.password_validation."
AUTH_PASSWORD_VALIDATORS = [
    {
        "NAME": _RULES + "UserAttributeSimilarityValidator",
        "OPTIONS": {"user_attributes": ("username", "name", "email")},
    },
    {"NAME": _RULES + "MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": _RULES + "CommonPasswordValidator"},
    {"NAME": _RULES + "NumericPasswordValidator"},
]
# A link in opens for three days.
PASSWORD_RESET_TIMEOUT = 3 * 24 * 3600
OTP_TOTP_ISSUER = "Keel Turn"

SESSION_ENGINE = "server.sessions"
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_AGE = 14 * 24 * 3600
CSRF_COOKIE_SAMESITE = "Lax"
X_FRAME_OPTIONS = "DENY"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
SECURE_CROSS_ORIGIN_OPENER_POLICY = "same-origin"
# Behind a proxy that speaks TLS. It says so in a header which serve.py takes from that proxy only.
HTTPS = os.environ.get("KEELTURN_HTTPS") == "1"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE_SSL_REDIRECT = HTTPS
SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https") if HTTPS else None
SECURE_HSTS_SECONDS = 365 * 24 * 3600 if HTTPS else 0
# Where the page is opened from: the hosts by their usual port, and KEELTURN_ORIGINS for any other.
CSRF_TRUSTED_ORIGINS = [
    *(f"https://{host}" for host in HOSTS if HTTPS),
    *filter(None, os.environ.get("KEELTURN_ORIGINS", "").split(",")),
]
# What other names under this host do is not ours to decide; who is locked is told by our own door.
SILENCED_SYSTEM_CHECKS = ["security.W005", "security.W021", "axes.W002"]

# Wrong passwords, by account and address together: nobody can lock another out.
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
AXES_DISABLE_ACCESS_LOG = True
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_FAILURE_LIMIT = 5
AXES_COOLOFF_TIME = timedelta(minutes=15)
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False
DATA_UPLOAD_MAX_MEMORY_SIZE = 2_000_000
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

# Letters go out through a mail server; in the demo a stand-in keeps them; else there are none, and a link in
# is handed over by whoever made it.
DEMO = os.environ.get("KEELTURN_DEMO") == "1"
EMAIL_HOST = os.environ.get("KEELTURN_SMTP_HOST", "")
EMAIL_BACKEND = (
    "django.core.mail.backends.smtp.EmailBackend" if EMAIL_HOST else mail.STAND_IN if DEMO else mail.NONE
)
EMAIL_PORT = int(os.environ.get("KEELTURN_SMTP_PORT", "587"))
EMAIL_HOST_USER = os.environ.get("KEELTURN_SMTP_USER", "")
EMAIL_HOST_PASSWORD = os.environ.get("KEELTURN_SMTP_PASSWORD", "")
EMAIL_USE_TLS, EMAIL_TIMEOUT = EMAIL_PORT == 587, 10
DEFAULT_FROM_EMAIL = os.environ.get("KEELTURN_SMTP_FROM", EMAIL_HOST_USER or "keelturn@localhost")

# What answers when weather is fetched: a class with the methods of server.weather.WeatherService.
WEATHER_SERVICE = os.environ.get("KEELTURN_WEATHER", "server.weather.StandInWeather")

WEB_BUILD = BASE / "web" / "dist"
WHITENOISE_ROOT = WEB_BUILD if WEB_BUILD.exists() else None
STATIC_URL = "/static/"
WHITENOISE_MIMETYPES = {".webmanifest": "application/manifest+json"}


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
    # A refused request is no fault of the program.
    "loggers": {"django.request": {"level": "ERROR"}, "axes": {"level": "ERROR"}},
}
