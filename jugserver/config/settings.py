"""Django's settings. Values come from :mod:`jugserver.process.environment`."""

from datetime import timedelta

from csp.constants import NONCE, NONE, SELF

from jugserver.process.environment import environment
from jugserver.process.time_zone import machine_time_zone

_env = environment()

DEBUG = _env.debug
SECRET_KEY = _env.secret_key()
ALLOWED_HOSTS = [host.strip() for host in _env.allowed_hosts.split(",")]
DEMO_MODE = _env.mode == "demo"
# Whoever may name a till has the app ask whatever answers there: in a shop no host but those that whoever installed it says.
TILL_HOSTS = (_env.till_hosts or ("" if _env.mode == "shop" else "127.0.0.1,localhost")).split(",")

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.postgres",
    "django.contrib.staticfiles",
    "axes",
    "csp",
    "ninja",
    "pgtrigger",
    "pghistory",
    "jugserver.audit",
    "jugserver.repeats",
    "jugserver.accounts",
    "jugserver.kitchen",
    "jugserver.pantry",
    "jugserver.formulas",
    "jugserver.batches",
    "jugserver.stock",
    "jugserver.drinks",
    "jugserver.tastings",
    "jugserver.sales",
    "jugserver.planning",
]

MIDDLEWARE = [
    "jugserver.config.pages_of_before.PagesOfBefore",
    "jugserver.config.logs.EveryRequest",
    "jugserver.config.timing.ServerTiming",
    "jugserver.http.problems.ProblemsOnly",
    "jugserver.config.nul.NoNul",
    "django.middleware.security.SecurityMiddleware",
    "jugserver.config.headers.PrivateAnswers",
    "csp.middleware.CSPMiddleware",
    "jugserver.config.static_files.StaticFiles",
    "jugserver.config.sessions.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "jugserver.accounts.site_time.TimeOfSite",
    "jugserver.tracking.who.TellWho",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
    "jugserver.repeats.once.DoneOnce",
]

ROOT_URLCONF = "jugserver.config.urls"
ASGI_APPLICATION = "jugserver.config.asgi.application"
TEMPLATES = [{"BACKEND": "django.template.backends.django.DjangoTemplates", "APP_DIRS": True}]

DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.postgresql",
        "HOST": _env.db_host,
        "PORT": _env.db_port,
        "NAME": _env.db_name,
        "USER": _env.db_user,
        "PASSWORD": _env.db_password(),
        "ATOMIC_REQUESTS": False,
        # Every request runs in a thread of its own, so connections must be shared: a
        # new one costs 15 ms. The same few queries come with every walk: keep them prepared.
        "CONN_MAX_AGE": 0,
        # After the database was started again none of the shared ones answers any more.
        "CONN_HEALTH_CHECKS": _env.pools(),
        "OPTIONS": {
            # The test runner makes and drops databases, which a pool would hold open.
            **({"pool": {"min_size": 1, "max_size": 30, "timeout": 4}} if _env.pools() else {}),
            "prepare_threshold": 3,
            "server_side_binding": True,
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

# When it was done, rather than when its transaction began: what one request changes stands in order.
PGHISTORY_CREATED_AT_FUNCTION = "CLOCK_TIMESTAMP()"

AUTH_USER_MODEL = "accounts.User"
AUTHENTICATION_BACKENDS = ["axes.backends.AxesStandaloneBackend", "jugserver.accounts.backends.PersonBackend"]
PASSWORD_HASHERS = [
    "django.contrib.auth.hashers.Argon2PasswordHasher",
    "django.contrib.auth.hashers.PBKDF2PasswordHasher",
]
if _env.mode == "test":  # hundreds of sign-ins; the real one takes its time on purpose
    PASSWORD_HASHERS.insert(0, "django.contrib.auth.hashers.MD5PasswordHasher")
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
# Failures are counted for a person at an address: guessing from elsewhere
# cannot lock the kitchen's own tablet out. Wider limits are in accounts/throttle.py.
AXES_FAILURE_LIMIT = 5
AXES_COOLOFF_TIME = timedelta(minutes=10)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_RESET_ON_SUCCESS = True
AXES_ENABLE_ACCESS_FAILURE_LOG = False
AXES_IPWARE_PROXY_COUNT = 0
AXES_VERBOSE = False

SESSION_ENGINE = "jugserver.accounts.session_store"
#: Nobody did anything for so long: what changes something asks for the PIN first. Reading goes on.
RESTS_AFTER = timedelta(minutes=_env.idle_minutes) if _env.idle_minutes else None
SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_SECURE = CSRF_COOKIE_SECURE = _env.https
SESSION_COOKIE_SAMESITE = "Lax"
SESSION_COOKIE_NAME = "oakenjug_session"
CSRF_COOKIE_NAME = "oakenjug_csrf"
CSRF_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "jugserver.http.problems.csrf_failure"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
X_FRAME_OPTIONS = "DENY"
SECURE_HSTS_SECONDS = 365 * 86_400 if _env.https else 0

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF, NONCE],
        "img-src": [SELF, "data:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "manifest-src": [SELF],
        "worker-src": [SELF],
        "base-uri": [NONE],
        "form-action": [SELF],
        "frame-ancestors": [NONE],
    }
}

STATIC_URL = "/static/"
STATICFILES_DIRS = [("app", _env.web_dist)] if _env.web_dist.is_dir() else []
WHITENOISE_USE_FINDERS = True
WHITENOISE_AUTOREFRESH = False
# Names with a content hash, as the front-end build writes them, never change.
WHITENOISE_IMMUTABLE_FILE_TEST = r"^.+-[0-9A-Za-z_-]{8}\.[a-z0-9]+$"
WEB_DIST = _env.web_dist
DATA_DIR, SECRET_FILE = _env.data_dir, _env.secret_file

#: Computing processes: None for as many as the machine is good for, 0 to compute in the thread that asks.
COMPUTING_WORKERS = 0 if _env.workers is None and _env.mode == "test" else _env.workers

#: Whether what can wait a moment is done beside the requests; in tests whoever asks next does it.
BY_AND_BY = _env.mode != "test"

USE_TZ = True
# A label’s date and a run sheet’s hours are the kitchen’s own.
TIME_ZONE = "UTC" if _env.mode == "test" else machine_time_zone()
LANGUAGE_CODE = "en-gb"
USE_I18N = False
DATA_UPLOAD_MAX_MEMORY_SIZE = 2 * 1024 * 1024

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"line": {"()": "jugserver.config.logs.OneLine"}, "json": {"()": "jugserver.config.logs.AsJson"}},
    "handlers": {
        "stderr": {"class": "logging.StreamHandler", "formatter": "line"},
        "requests": {
            "class": "logging.handlers.RotatingFileHandler",
            "filename": str(_env.data_dir / "requests.log"),
            "formatter": "json",
            "maxBytes": 5 * 1024 * 1024,
            "backupCount": 5,
            "delay": True,
        }
        if _env.data_dir is not None
        else {"class": "logging.NullHandler"},
    },
    "loggers": {"oakenjug.requests": {"handlers": ["requests"], "level": "INFO", "propagate": False}},
    "root": {"handlers": ["stderr"], "level": "WARNING"},
}
