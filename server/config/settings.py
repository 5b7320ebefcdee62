"""Settings, from the environment. Secrets and the database address are written by bin/setup."""

import os
from datetime import timedelta
from pathlib import Path

import dj_database_url

ROOT = Path(__file__).resolve().parent.parent.parent
WEB = ROOT / "web" / "dist"

DEBUG = os.environ.get("HOURS_DEBUG") == "1"
# Without a secret of its own the server signs nothing that outlives the process.
SECRET_KEY = os.environ.get("HOURS_SECRET") or os.urandom(32).hex()
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]"]
ALLOWED_HOSTS += [host for host in os.environ.get("HOURS_HOSTS", "").split(",") if host]
CSRF_TRUSTED_ORIGINS = [o for o in os.environ.get("HOURS_ORIGINS", "").split(",") if o]

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "axes",
    "ninja",
    "procrastinate.contrib.django",
    "accounts",
    "jobs",
    "documents",
    "library",
    "scenes",
    "prints",
    "copies",
]
MIDDLEWARE = [
    "config.guards.guarded",
    "config.requests.logged",
    "django.middleware.security.SecurityMiddleware",
    "api.problems.told",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "accounts.signing_in.with_person",
    "config.requests.within_budget",
]
ROOT_URLCONF = "config.urls"
WSGI_APPLICATION = "config.wsgi.application"

DATABASES = {
    "default": dj_database_url.config(
        default="postgresql://hours@127.0.0.1:54321/hours", conn_max_age=60, conn_health_checks=True
    )
}
# The same few queries are asked all the time: the database keeps their plans.
DATABASES["default"].setdefault("OPTIONS", {}).update(
    {"server_side_binding": True, "prepare_threshold": 5}
)
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

LANGUAGE_CODE = "en-gb"
TIME_ZONE = "UTC"
USE_I18N = False
USE_TZ = True

AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.NumericPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
# Wrong passwords are counted for each account and address, and for each address.
MOST_WRONG_PASSWORDS = 40
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
AXES_FAILURE_LIMIT = 8
AXES_COOLOFF_TIME = timedelta(minutes=10)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_USERNAME_CALLABLE = "accounts.passwords.counted_as"
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False
SILENCED_SYSTEM_CHECKS = ["axes.W002"]  # the API says itself that an account is locked

# The address of a proxy before us, which tells who asks and whether by TLS; empty where there is none.
BEHIND_PROXY = os.environ.get("HOURS_PROXY", "")

SESSION_ENGINE = "accounts.sessions"
# Served over TLS, by a proxy: cookies go no other way, and browsers stay with it for a year.
SERVED_BY_TLS = os.environ.get("HOURS_TLS") == "1"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SERVED_BY_TLS
SECURE_HSTS_SECONDS = 365 * 24 * 3600 if SERVED_BY_TLS else 0
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_COOKIE_SAMESITE = "Lax"
SECURE_REFERRER_POLICY = "same-origin"

# What each process keeps of what it has read and worked out.
MEMORY_BYTES = int(os.environ.get("HOURS_MEMORY_MB", "192")) << 20

# How often a worker says that it lives; one that was not heard of for four of them is dead.
WORKER_HEARTBEAT_SECONDS = float(os.environ.get("HOURS_HEARTBEAT_S", "5"))

# Of the threads that answer (gunicorn.conf.py), so many may be one person's.
MOST_AT_ONCE = max(1, 3 * int(os.environ.get("HOURS_THREADS", "12")) // 4)
# What an answer may take before it is stopped: of time, and of arrays made on the way.
LONGEST_ANSWER_SECONDS = float(os.environ.get("HOURS_LONGEST_ANSWER_S", "20"))
LARGEST_ANSWER_BYTES = 1 << 30

# Where copies of all productions are kept, made each night after this hour (UTC), and how many of each; nowhere
# where none is named.
COPIES_FOLDER = os.environ.get("HOURS_COPIES", "")
COPIES_KEPT = max(1, int(os.environ.get("HOURS_COPIES_KEPT", "7")))
COPIES_HOUR = int(os.environ.get("HOURS_COPIES_HOUR", "2")) % 24

# Where a capture stage is listened for: on this machine alone.
CAPTURE_STAGE = ("127.0.0.1", int(os.environ.get("HOURS_CAPTURE_STAGE_PORT", "8790")))

# The largest motion file that can be uploaded; files go to disk on their way in.
LARGEST_UPLOAD_BYTES = 256 * 1024 * 1024
DATA_UPLOAD_MAX_MEMORY_SIZE = 16 * 1024 * 1024

STATIC_URL = "/static/"
WHITENOISE_ROOT = WEB
WHITENOISE_ALLOW_ALL_ORIGINS = False
WHITENOISE_AUTOREFRESH = DEBUG


def WHITENOISE_IMMUTABLE_FILE_TEST(path: str, url: str) -> bool:  # noqa: N802 (WhiteNoise's name)
    """Files that carry their content's hash in their name."""
    return url.startswith("/assets/")


# Warnings go where the process writes; a line for each request goes to a file, if one is named.
_REQUESTS = os.environ.get("HOURS_LOG", "")
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"line": {"format": "{asctime} {message}", "style": "{"}},
    "handlers": {
        "console": {"class": "logging.StreamHandler"},
        "requests": {
            "class": "logging.handlers.WatchedFileHandler",
            "filename": _REQUESTS or os.devnull,
            "formatter": "line",
        },
    },
    "root": {"handlers": ["console"], "level": "WARNING"},
    "loggers": {
        # Refusals are answers like any other, and the line of the request tells of them.
        "django.request": {"level": "ERROR"},
        # That a request waits for its turn is nothing to be told each time.
        "waitress.queue": {"level": "ERROR"},
        "hours.requests": {
            "handlers": ["requests"],
            "level": "INFO" if _REQUESTS else "WARNING",
            "propagate": False,
        },
    },
}
