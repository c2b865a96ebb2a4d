"""Log lines as JSON on standard error: quiet unless something fails (`PRONOSTICO_LOG_LEVEL` says more)."""

import json
import logging
import sys
from datetime import UTC, datetime
from typing import Literal

LogLevel = Literal["debug", "info", "warning", "error"]

LOGGER = logging.getLogger("pronostico")
"""Everything of ours logs here, or to a child of it."""

_OWN_FIELDS = frozenset(vars(logging.makeLogRecord({}))) | {"message", "asctime"}


class JsonLines(logging.Formatter):
    """One JSON object per line: time (UTC), level, logger, message, the `extra` fields, traceback."""

    def format(self, record: logging.LogRecord) -> str:
        """A record as one line."""
        line = {
            "time": datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds"),
            "level": record.levelname.lower(),
            "logger": record.name,
            "message": record.getMessage(),
            **{name: value for name, value in vars(record).items() if name not in _OWN_FIELDS},
        }
        if record.exc_info:
            line["traceback"] = self.formatException(record.exc_info)
        return json.dumps(line, ensure_ascii=False, default=str)


def configure_logs(level: LogLevel) -> None:
    """Send our log lines of this level and above to standard error; once, however often it is called."""
    LOGGER.setLevel(level.upper())
    if not any(isinstance(handler.formatter, JsonLines) for handler in LOGGER.handlers):
        handler = logging.StreamHandler(sys.stderr)
        handler.setFormatter(JsonLines())
        LOGGER.addHandler(handler)
        LOGGER.propagate = False
