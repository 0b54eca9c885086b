"""`/api/listen`: live sound in over a WebSocket, readings out.

First a JSON text message, then binary messages of 16-bit little-endian mono PCM of any size. Whatever a client sends
that can't be meant ends that client's socket with a sentence, and no one else's.
"""

import socket
import struct
import time

import numpy as np
from apiflask import APIBlueprint
from flask_sock import Sock
from simple_websocket import ConnectionClosed, Server

from pondus.contracts.base import Result
from pondus.contracts.listening import (
    ListenMessages,
    ListenRequest,
    ReadyMessage,
    RefusedMessage,
    message_of,
)
from pondus.core.errors import BadInput
from pondus.core.hearing.live import Listener
from pondus.core.hearing.live_fifth import FifthListener

blueprint = APIBlueprint("listening", __name__, tag="Listening")
sock = Sock()

LARGEST_MESSAGE_BYTES = 1024 * 1024
IDLE_SECONDS = 30.0
AHEAD_SECONDS = 60.0
MOST_WAITING_MESSAGES = 4000


@blueprint.get("/listen/messages")
@blueprint.output(ListenMessages)
@blueprint.doc(description="Describes what /api/listen says; it answers with the first message it would send.")
def describe() -> ListenMessages:
    """What the listening socket says."""
    return ListenMessages(message=ReadyMessage())


@sock.route("/api/listen")  # type: ignore[untyped-decorator]
def listen(ws: Server) -> None:
    """One client's sound, until it goes."""
    try:
        keeps_own_time(ws)
        _serve(ws)
    except BadInput as error:
        _refuse(ws, error.message, error.field)
    except (ConnectionClosed, OSError):  # the client is gone; so is its socket
        return


def keeps_own_time(ws: Server) -> None:
    """From now on a socket may be silent for as long as its view bears it; the server's own patience no longer counts."""
    ws.sock.setsockopt(socket.SOL_SOCKET, socket.SO_RCVTIMEO, struct.pack("ll", 0, 0))


def _serve(ws: Server) -> None:
    first = ws.receive(timeout=IDLE_SECONDS)
    if not isinstance(first, str):
        raise BadInput("request", "Say first, as JSON text, which instrument is played and at which sample rate.")
    listener = ListenRequest.model_validate_json(first).listener()
    _say(ws, ReadyMessage())
    started, heard_seconds, left_over = time.monotonic(), 0.0, b""
    while True:
        message = ws.receive(timeout=IDLE_SECONDS)
        if message is None:
            raise BadInput(
                "sound", f"No sound came for {IDLE_SECONDS:.0f} seconds; listening has ended. Start it again."
            )
        if isinstance(message, str):
            raise BadInput("sound", "After the first message only sound is understood: binary, 16-bit PCM.")
        data = left_over + message
        whole = len(data) // 2 * 2
        left_over = data[whole:]
        heard_seconds += whole / 2 / listener.rate_hz
        _check_flood(ws, heard_seconds - (time.monotonic() - started))
        _hear(ws, listener, data[:whole])


def _check_flood(ws: Server, ahead_seconds: float) -> None:
    if ahead_seconds > AHEAD_SECONDS or len(ws.input_buffer) > MOST_WAITING_MESSAGES:
        raise BadInput("sound", "Sound comes in far faster than it can have been played; send it as it sounds.")


def _hear(ws: Server, listener: Listener | FifthListener, data: bytes) -> None:
    samples = np.frombuffer(data, dtype="<i2").astype(np.float32) / 32768.0
    for each in listener.feed(samples):
        _say(ws, message_of(each))


def _say(ws: Server, message: Result) -> None:
    ws.send(message.model_dump_json())


def _refuse(ws: Server, message: str, field: str | None) -> None:
    try:
        _say(ws, RefusedMessage(message=message, field=field))
        ws.close(1008, "refused")
    except (ConnectionClosed, OSError):  # the client is gone; so is its socket
        return
