"""One log for everything: a line of JSON an event, with the id of the request that it began with, and nothing secret in it."""

import re
import uuid
from collections.abc import Iterator, MutableMapping
from contextlib import contextmanager
from typing import Any

import structlog

_FIT = re.compile(r"[A-Za-z0-9._-]{8,64}")
# Fields of events are named by us; none of these may be.
_SECRET = re.compile(r"pass|secret|token|cookie|authori[sz]ation|(^|_)code$", re.IGNORECASE)
Event = MutableMapping[str, Any]


def without_secrets(logger: Any, method: str, event: Event) -> Event:
    """Whatever is named like a secret is left out, should somebody ever log it."""
    return {k: v for k, v in event.items() if not _SECRET.search(k)}


_SHARED: list[Any] = [
    structlog.contextvars.merge_contextvars,
    structlog.stdlib.add_logger_name,
    structlog.stdlib.add_log_level,
    structlog.processors.TimeStamper(fmt="iso", utc=True, key="at"),
    structlog.processors.format_exc_info,
    without_secrets,
]


def settings_for(level: str) -> dict[str, Any]:
    """Django's LOGGING: what libraries say goes the same way as what we say ourselves."""
    structlog.configure(
        processors=[
            structlog.stdlib.filter_by_level,
            *_SHARED,
            structlog.stdlib.ProcessorFormatter.wrap_for_formatter,
        ],
        logger_factory=structlog.stdlib.LoggerFactory(),
        cache_logger_on_first_use=True,
    )
    return {
        "version": 1,
        "disable_existing_loggers": False,
        "formatters": {
            "lines": {
                "()": structlog.stdlib.ProcessorFormatter,
                "foreign_pre_chain": _SHARED,
                "processors": [
                    structlog.stdlib.ProcessorFormatter.remove_processors_meta,
                    structlog.processors.JSONRenderer(ensure_ascii=False),
                ],
            }
        },
        "handlers": {"console": {"class": "logging.StreamHandler", "formatter": "lines"}},
        "root": {"handlers": ["console"], "level": "WARNING"},
        "loggers": {
            "amberkey": {"level": level},
            # Libraries that log each step of theirs, and what is logged as answered anyway.
            "procrastinate": {"level": "WARNING"},
            "psycopg.pool": {"level": "ERROR"},
            "django.request": {"level": "ERROR"},
        },
    }


def new_id(given: str | None = None) -> str:
    """The id under which everything is logged that follows from one request: the given one where it is fit, else a new one."""
    return given if given and _FIT.fullmatch(given) else uuid.uuid4().hex


def current_id() -> str:
    """The id of the request or job that is being worked on; empty outside of one."""
    return str(structlog.contextvars.get_contextvars().get("request", ""))


@contextmanager
def logged_as(request_id: str, **more: str) -> Iterator[None]:
    """Log what happens inside under an id."""
    with structlog.contextvars.bound_contextvars(request=request_id, **more):
        yield
