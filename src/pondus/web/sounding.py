"""Sound streamed out over a socket at the pace at which it is played: what the simulated instruments share."""

import time
from typing import Protocol

import numpy as np
from numpy.typing import NDArray
from simple_websocket import ConnectionClosed, Server

from pondus.contracts.listening import RefusedMessage
from pondus.core.errors import BadInput, PondusError
from pondus.core.simulated.voice import Voice
from pondus.core.simulated.wood import Wood
from pondus.web.access import SIGN_IN, STILL_IN_SECONDS, still_in
from pondus.web.doors import TurnedAway

BLOCK_SECONDS, AHEAD_SECONDS = 0.05, 0.15
ROOM_LEVEL = 6e-4


class Sounds(Protocol):
    """What sounds: it is told what a client says, and asked for block after block."""

    def take(self, message: str) -> None:
        """Something the client says. Raises PondusError."""

    def block(self, samples: int) -> NDArray[np.float64]:
        """The next samples: shape (samples,), full scale ±1."""

    @property
    def is_quiet(self) -> bool:
        """Whether nothing sounds just now."""


def stream(ws: Server, sounds: Sounds, *, rate_hz: int, quiet_seconds: float) -> None:
    """16-bit mono PCM, 50 ms a message, until the client goes, its device is signed out, or it has been quiet for so long.

    Raises PondusError for what a client says that can't be meant.
    """
    size = round(BLOCK_SECONDS * rate_hz)
    due = quiet_since = asked_at = time.monotonic()
    while time.monotonic() - quiet_since < quiet_seconds:
        if time.monotonic() - asked_at > STILL_IN_SECONDS:
            asked_at = time.monotonic()
            if not still_in():
                raise TurnedAway(401, SIGN_IN)
        message = ws.receive(timeout=max(0.0, due - time.monotonic() - AHEAD_SECONDS))
        if message is not None:
            sounds.take(text_of(message))
            continue
        if not sounds.is_quiet:
            quiet_since = time.monotonic()
        ws.send((np.clip(sounds.block(size), -1.0, 1.0) * 32767.0).astype("<i2").tobytes())
        due = max(due + BLOCK_SECONDS, time.monotonic() - 2.0 * BLOCK_SECONDS)


def sounded_block(voices: dict[str, Voice], wood: Wood, rng: np.random.Generator, size: int) -> NDArray[np.float64]:
    """The next samples of the strings that sound, in a quiet room; those that are over or broken fall silent."""
    out = rng.normal(0.0, ROOM_LEVEL, size)
    for over in [name for name, voice in voices.items() if voice.is_over or not wood.sounds(name)]:
        del voices[over]
    if wood.bridge == "fallen":
        voices.clear()
    for name, voice in voices.items():
        out = out + voice.block(size, wood.hz(name))
    return out


def text_of(message: object) -> str:
    """What a client said first. Raises BadInput for sound."""
    if not isinstance(message, str):
        raise BadInput("request", "Say so as JSON text: first which instrument and at which sample rate.")
    return message


def refuse(ws: Server, error: PondusError) -> None:
    """Say why, and end that client's socket."""
    try:
        ws.send(RefusedMessage(message=error.message).model_dump_json())
        ws.close(1008, "refused")
    except (ConnectionClosed, OSError):  # the client is gone; so is its socket
        return
