"""Who ends with whom: whatever is started ends with its starter, however that ends, and what outlived one is found and ended.

Importing this costs nothing, so that a process can say whom it ends with before it loads anything else (Linux).
"""

import ctypes
import hashlib
import os
import secrets
import signal
import time
from contextlib import suppress
from pathlib import Path

STARTED_BY = "PONDUS_STARTED_BY"
"""In a server's environment: which home it serves (a digest of the token kept there), and who started it (number and birth)."""
ENDS_WITHIN_SECONDS = 10.0
_PR_SET_PDEATHSIG = 1


def end_with(starter: int | None, number: signal.Signals = signal.SIGTERM) -> None:
    """From now on this process gets a signal when its starter dies, even by kill -9; it ends at once where that has died
    already. ``starter``: its process number; None: whoever that is.
    """
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, int(number))
    if starter is not None and os.getppid() != starter:
        os._exit(0)


def token_of(folder: Path) -> str:
    """What a home's processes are recognised by; made once, for its user alone. Raises OSError."""
    file = folder / "token"
    with suppress(OSError):
        kept = file.read_text().strip()
        if kept:
            return kept
    beside = folder / f"token.{os.getpid()}"
    handle = os.open(beside, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
    with os.fdopen(handle, "w") as out:
        out.write(secrets.token_urlsafe(24))
    with suppress(FileExistsError):
        os.link(beside, file)  # of two that make one at once, the first one's holds
    beside.unlink()
    return file.read_text().strip()


def run_of(folder: Path, starter: int) -> str:
    """What a server of this start answers when it is asked which it is; it gives nothing away."""
    return _digest(f"{token_of(folder)} {starter}")


def told_to_child(folder: Path) -> dict[str, str]:
    """The environment of a server that this process starts for a home."""
    return {**os.environ, STARTED_BY: f"{_digest(token_of(folder))} {os.getpid()} {_born(os.getpid())}"}


def end_orphans(folder: Path) -> int:
    """End every server of this home whose starter is gone, and wait until it is; how many processes there were."""
    mine, orphans = _digest(token_of(folder)), []
    for path in Path("/proc").iterdir():
        if not path.name.isdigit():
            continue
        try:
            told = _environment(path).get(STARTED_BY, "").split()
        except OSError:  # another user's, or gone
            continue
        if len(told) == 3 and told[0] == mine and _born(int(told[1])) != told[2]:
            orphans.append(int(path.name))
    for number in orphans:
        with suppress(ProcessLookupError, PermissionError):
            os.kill(number, signal.SIGKILL)
    until = time.monotonic() + ENDS_WITHIN_SECONDS
    while any(_born(number) for number in orphans) and time.monotonic() < until:
        time.sleep(0.02)
    return len(orphans)


def _environment(process: Path) -> dict[str, str]:
    pairs = (process / "environ").read_bytes().decode(errors="replace").split("\0")
    return dict(pair.split("=", 1) for pair in pairs if "=" in pair)


def _born(number: int) -> str:
    """When a process began, in the kernel's ticks; empty where there is none, or only its end is to be told still."""
    try:
        state, *more = Path(f"/proc/{number}/stat").read_text().rsplit(")", 1)[1].split()
    except OSError:
        return ""
    return "" if state in "ZX" else more[18]


def _digest(text: str) -> str:
    return hashlib.sha256(text.encode()).hexdigest()[:24]
