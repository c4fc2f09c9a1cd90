"""The log: one line an event, without the values of variables."""

import logging

import structlog


def configure_logs() -> None:
    """Log plainly. Formatting local variables would take seconds when they are pictures."""
    structlog.configure(
        wrapper_class=structlog.make_filtering_bound_logger(logging.INFO),
        processors=[
            structlog.processors.add_log_level,
            structlog.processors.TimeStamper("iso", utc=False),
            structlog.dev.ConsoleRenderer(colors=False,
                                          exception_formatter=structlog.dev.plain_traceback)])
