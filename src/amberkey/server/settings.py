"""Django settings, all from environment variables; the defaults are for a developer's machine on loopback."""

import os
import pathlib

from amberkey.server.people.addresses import networks
from amberkey.server.watch.logs import settings_for

ROOT = pathlib.Path(__file__).resolve().parents[3]

# What bundles are signed with (see exchange.keys): a file that the start makes, or given here as 64 hexadecimal digits.
SIGNING_KEY = os.environ.get("AMBERKEY_SIGNING_KEY", "")
SIGNING_KEY_BEFORE = os.environ.get("AMBERKEY_SIGNING_KEY_BEFORE", "")
SIGNING_KEY_FILE = os.environ.get("AMBERKEY_SIGNING_KEY_FILE", "")

DEBUG = False
SECRET_KEY = os.environ.get("AMBERKEY_SECRET_KEY", "")
if not SECRET_KEY:
    # Only a loopback server may run on a made-up key; `start` refuses to run without a real one.
    SECRET_KEY = "loopback-only-" + str(ROOT)
ALLOWED_HOSTS = os.environ.get("AMBERKEY_HOSTS", "127.0.0.1,localhost").split(",")
# The proxies whose word on where a request comes from counts.
PROXIES = networks(os.environ.get("AMBERKEY_PROXIES", ""))
HTTPS = os.environ.get("AMBERKEY_HTTPS", "") == "1"

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.staticfiles",
    "axes",
    "csp",
    "ninja",
    "procrastinate.contrib.django",
    "amberkey.server.people",
    "amberkey.server.library",
    "amberkey.server.cards",
    "amberkey.server.catalogue",
    "amberkey.server.exchange",
    "amberkey.server.fleet",
    "amberkey.server.organisation",
    "amberkey.server.nightly",
    "amberkey.server.proposals",
    "amberkey.server.records",
    "amberkey.server.rollouts",
    "amberkey.server.standard",
    "amberkey.server.today",
]
MIDDLEWARE = [
    "amberkey.server.watch.requests.watched",
    "amberkey.server.boundary.boundary",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
]
ROOT_URLCONF = "amberkey.server.urls"
WSGI_APPLICATION = "amberkey.server.wsgi.application"

# `timeout`: seconds until a request gives up waiting for a connection and says so.
_POOL = {"min_size": 1, "max_size": 18, "timeout": 5, "reconnect_timeout": 30}
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "NAME": os.environ.get("AMBERKEY_DB_NAME", "amberkey"),
        "USER": os.environ.get("AMBERKEY_DB_USER", "amberkey"),
        "PASSWORD": os.environ.get("AMBERKEY_DB_PASSWORD", ""),
        "HOST": os.environ.get("AMBERKEY_DB_HOST", "127.0.0.1"),
        "PORT": os.environ.get("AMBERKEY_DB_PORT", "5432"),
        # Tests drop their database at the end and want no connection left open.
        "OPTIONS": {} if os.environ.get("AMBERKEY_DB_POOL") == "0" else {"pool": _POOL},
        # A connection of the pool may be one to a server that was started anew since.
        "CONN_HEALTH_CHECKS": True,
    }
}
CACHES = {
    "default": {"BACKEND": "django.core.cache.backends.locmem.LocMemCache"},
    # Answers that one process worked out, for all others, on whichever host (see workbench.keeping).
    "answers": {
        "BACKEND": "django.core.cache.backends.db.DatabaseCache",
        "LOCATION": "kept_answers",
        "TIMEOUT": 24 * 3600,
        "OPTIONS": {"MAX_ENTRIES": 4_000},
    },
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
USE_TZ = True
TIME_ZONE = "UTC"
USE_I18N = False

AUTH_USER_MODEL = "people.User"
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "django.contrib.auth.backends.ModelBackend"]
PASSWORD_HASHERS = ["amberkey.server.people.hashing.PatientHasher"]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
    {"NAME": "django.contrib.auth.password_validation.NumericPasswordValidator"},
]
AXES_FAILURE_LIMIT = 8
AXES_COOLOFF_TIME = 0.25  # hours
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_VERBOSE = False
AXES_CLIENT_IP_CALLABLE = "amberkey.server.people.addresses.address_of"
AXES_LOCKOUT_CALLABLE = "amberkey.server.people.api.locked_out"

SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = SECURE_SSL_REDIRECT = HTTPS
CSRF_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "amberkey.server.problems.csrf_failure"
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
if HTTPS:
    SECURE_HSTS_SECONDS = 31_536_000
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")

# The page's style nonce is the only inline thing let through: Emotion puts its rules into a <style> element.
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": ["'none'"],
        "script-src": ["'self'"],
        "style-src": ["'self'"],
        "img-src": ["'self'", "data:"],
        "font-src": ["'self'"],
        "connect-src": ["'self'"],
        "form-action": ["'self'"],
        "base-uri": ["'none'"],
        "frame-ancestors": ["'none'"],
    }
}

DATA_UPLOAD_MAX_MEMORY_SIZE = 10 * 1024 * 1024
FILE_UPLOAD_MAX_MEMORY_SIZE = 20 * 1024 * 1024
GUIDE = ROOT / "docs" / "guide"
WEB_BUILD = ROOT / "web" / "dist"
STATIC_URL = "/static/"
WHITENOISE_ROOT = WEB_BUILD if WEB_BUILD.is_dir() else None
WHITENOISE_INDEX_FILE = False
WHITENOISE_MAX_AGE = 3600
# Vite puts a digest of the content into every name below assets/.
WHITENOISE_IMMUTABLE_FILE_TEST = r"^/assets/.+$"

SECURE_REDIRECT_EXEMPT = [r"^(health|ready|metrics)$"]

LOGGING = settings_for(os.environ.get("AMBERKEY_LOG_LEVEL", "INFO"))
METRICS_TOKEN = os.environ.get("AMBERKEY_METRICS_TOKEN", "")
