"""`/api/listen`: live sound in over a WebSocket, readings out.

First a JSON text message, then binary messages of 16-bit little-endian mono PCM of any size. Whatever a client sends
that can't be meant ends that client's socket with a sentence, and no one else's.
"""

import socket
import struct
import time

from apiflask import APIBlueprint
from flask import current_app
from flask_sock import Sock
from simple_websocket import ConnectionClosed, Server

from pondus.contracts.base import Result
from pondus.contracts.listening import HeardSoFar, ListenMessages, ListenRequest, ReadyMessage, RefusedMessage, SoundSoFar
from pondus.core.errors import BadInput
from pondus.store.errors import TooOften
from pondus.web.access import SIGN_IN, STILL_IN_SECONDS, still_in
from pondus.web.at_once import place_for
from pondus.web.doors import at_most
from pondus.web.ears import Ear, Ears

blueprint = APIBlueprint("listening", __name__, tag="Listening")
sock = Sock()

LARGEST_MESSAGE_BYTES = 1024 * 1024
IDLE_SECONDS = 30.0
AHEAD_SECONDS = 60.0
MOST_WAITING_MESSAGES = 4000
MOST_AT_ONCE = 64
"""Blocks of sound heard in one go, where some have waited."""


@blueprint.get("/listen/messages")
@blueprint.output(ListenMessages)
@blueprint.doc(description="Describes what /api/listen says; it answers with the first message it would send.")
def describe() -> ListenMessages:
    """What the listening socket says."""
    return ListenMessages(message=ReadyMessage())


@blueprint.post("/listen/sound")
@at_most("sound")
@blueprint.input(SoundSoFar, arg_name="asked")
@blueprint.output(HeardSoFar)
def hear_so_far(asked: SoundSoFar) -> HeardSoFar:
    """Live sound by ordinary requests, where a browser won't open a socket to a site it was warned of.

    Raises BadInput, Conflict or TooOften.
    """
    return asked.heard()


@sock.route("/api/listen")  # type: ignore[untyped-decorator]
def listen(ws: Server) -> None:
    """One client's sound, until it goes. Raises BadInput or Conflict."""
    try:
        keeps_own_time(ws)
        with place_for("socket"):
            _serve(ws)
    except BadInput as error:
        _refuse(ws, error.message, error.field)
    except TooOften as error:
        _refuse(ws, error.message, None)
    except (ConnectionClosed, OSError):  # the client is gone; so is its socket
        return


def keeps_own_time(ws: Server) -> None:
    """From now on a socket may be silent for as long as its view bears it; the server's own patience no longer counts."""
    ws.sock.setsockopt(socket.SOL_SOCKET, socket.SO_RCVTIMEO, struct.pack("ll", 0, 0))


def _serve(ws: Server) -> None:
    first = ws.receive(timeout=IDLE_SECONDS)
    if not isinstance(first, str):
        raise BadInput("request", "Say first, as JSON text, which instrument is played and at which sample rate.")
    request = ListenRequest.model_validate_json(first)
    rate_hz = request.listener().rate_hz
    _say(ws, ReadyMessage())
    ears: Ears = current_app.extensions["pondus_ears"]
    ear = ears.open(request)
    try:
        _hear(ws, ears, ear, rate_hz)
    finally:
        ears.close(ear)


def _hear(ws: Server, ears: Ears, ear: Ear, rate_hz: int) -> None:
    started, heard_seconds, left_over = time.monotonic(), 0.0, b""
    looked_at = started
    while True:
        if time.monotonic() - looked_at > STILL_IN_SECONDS:
            looked_at = time.monotonic()
            if not still_in():
                raise BadInput("session", SIGN_IN)
        data = left_over + _waiting(ws)
        whole = len(data) // 2 * 2
        left_over = data[whole:]
        heard_seconds += whole / 2 / rate_hz
        _check_flood(ws, heard_seconds - (time.monotonic() - started))
        for said in ears.hear(ear, data[:whole]):
            ws.send(said)


def _waiting(ws: Server) -> bytes:
    """The sound that has come since the last time; waits for some. Raises BadInput for silence on the line, or text."""
    message = ws.receive(timeout=IDLE_SECONDS)
    if message is None:
        raise BadInput("sound", f"No sound came for {IDLE_SECONDS:.0f} seconds; listening has ended. Start it again.")
    blocks = []
    while message is not None:
        if isinstance(message, str):
            raise BadInput("sound", "After the first message only sound is understood: binary, 16-bit PCM.")
        blocks.append(message)
        message = ws.receive(timeout=0) if len(blocks) < MOST_AT_ONCE else None
    return b"".join(blocks)


def _check_flood(ws: Server, ahead_seconds: float) -> None:
    if ahead_seconds > AHEAD_SECONDS or len(ws.input_buffer) > MOST_WAITING_MESSAGES:
        raise BadInput("sound", "Sound comes in far faster than it can have been played; send it as it sounds.")


def _say(ws: Server, message: Result) -> None:
    ws.send(message.model_dump_json())


def _refuse(ws: Server, message: str, field: str | None) -> None:
    try:
        _say(ws, RefusedMessage(message=message, field=field))
        ws.close(1008, "refused")
    except (ConnectionClosed, OSError):  # the client is gone; so is its socket
        return
