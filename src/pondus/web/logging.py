"""What of an unforeseen error goes into the log."""

import logging
import traceback


def log_unforeseen(error: BaseException) -> None:
    """Where an error nobody foresaw came about: its kind and the lines of code, none of the values, which hold names."""
    lines = [f"{frame.filename}:{frame.lineno} in {frame.name}" for frame in traceback.extract_tb(error.__traceback__)]
    logging.getLogger("pondus").error("unforeseen %s\n  %s", type(error).__name__, "\n  ".join(lines))
