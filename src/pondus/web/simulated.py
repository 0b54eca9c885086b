"""The simulated instrument: begin one, turn it, hear it. What is true of it stays here; only sound and what eyes see go out."""

import io
import time
from collections.abc import Callable
from contextlib import AbstractContextManager
from datetime import datetime
from uuid import UUID

import numpy as np
import soundfile
from apiflask import APIBlueprint
from flask import Response
from numpy.typing import NDArray
from pydantic import BaseModel
from simple_websocket import ConnectionClosed, Server
from sqlmodel import Session

from pondus.contracts.base import ResultOf
from pondus.contracts.simulated import BeginSimulated, LiveHello, LivePlay, SimulatedAction, SimulatedOut, SimulatedString
from pondus.core.errors import BadInput, PondusError
from pondus.core.judgement.heard import Heard
from pondus.core.simulated.hands import displayed
from pondus.core.simulated.turning import ease_bridge, put_right, tug, turn_head, turn_screw
from pondus.core.simulated.voice import How, Voice, sounded
from pondus.core.simulated.wood import Wood
from pondus.store import instruments as instrument_store
from pondus.store import simulated as simulated_store
from pondus.web.access import must_reach
from pondus.web.at_once import place_for
from pondus.web.described import file_of
from pondus.web.listening import keeps_own_time, sock
from pondus.web.sounding import refuse, sounded_block, stream, text_of
from pondus.web.transaction import looking, transaction

blueprint = APIBlueprint("simulated", __name__, tag="Simulated instrument")
LOOKED_AT_EVERY_SECONDS = 0.1
LONGEST_QUIET_SECONDS = 900.0


def _seen(instrument_id: UUID, wood: Wood) -> SimulatedOut:
    return SimulatedOut(
        instrument_id=instrument_id,
        strings=SimulatedString.all_of(wood),
        bridge=wood.bridge,
        bridge_leans=wood.leans_visibly,
        events=list(wood.events[-4:]),
    )


@blueprint.put("/instruments/<uuid:instrument_id>/simulated")
@blueprint.input(BeginSimulated, arg_name="how")
@blueprint.output(SimulatedOut)
def begin(instrument_id: UUID, how: BeginSimulated) -> SimulatedOut:
    """A simulated instrument in place of this one, tuned under an id of its own; one that was there goes.

    Raises BadInput, NotFound or Conflict.
    """
    with transaction() as session:
        record = instrument_store.instrument(session, instrument_id)
        twin = simulated_store.begin_simulated(session, record, seed=how.seed, start=how.start)
        return _seen(twin.instrument_id, twin.wood)


@blueprint.get("/instruments/<uuid:instrument_id>/simulated")
@blueprint.output(SimulatedOut)
def see(instrument_id: UUID) -> SimulatedOut:
    """What eyes see of it. Raises BadInput or NotFound."""
    with looking() as session:
        instrument_store.instrument(session, instrument_id)
        wood = simulated_store.simulated_if_any(session, instrument_id)
        if wood is not None:
            return _seen(instrument_id, wood)
    return SimulatedOut(instrument_id=instrument_id, begun=False, strings=[], bridge="up", bridge_leans=False, events=[])


@blueprint.post("/instruments/<uuid:instrument_id>/simulated")
@blueprint.input(SimulatedAction, arg_name="action")
@blueprint.output(SimulatedOut)
def act(instrument_id: UUID, action: SimulatedAction) -> SimulatedOut:
    """Do one thing to it. Raises BadInput or NotFound."""
    with transaction() as session:
        return _seen(instrument_id, simulated_store.after(session, instrument_id, lambda wood: _done(wood, action)))


def _done(wood: Wood, action: SimulatedAction) -> Wood:
    """One action; two at once, or none, are refused."""
    asked = [action.turns is not None, action.degrees is not None, action.tug, action.ease_bridge, action.put_right]
    if sum(asked) != 1:
        raise BadInput(
            "action", "One thing at a time: a fine tuner, a peg, a tug, the bridge, or putting right what is broken."
        )
    if action.put_right:
        return put_right(wood)
    if action.ease_bridge:
        return ease_bridge(wood)
    if action.string is None:
        raise BadInput("string", f"Which string? It has {', '.join(wood.now)}.")
    if action.turns is not None:
        return turn_screw(wood, action.string, action.turns)
    if action.degrees is not None:
        return turn_head(wood, action.string, action.degrees, pushed=action.pushed)
    return tug(wood, action.string)


class SoundQuery(BaseModel):
    """Which strings ("A", or "D,A"), bowed or plucked, for how long."""

    strings: str
    how: How = "bow"
    seconds: float = 2.0


@blueprint.get("/instruments/<uuid:instrument_id>/simulated/sound.wav")
@blueprint.input(SoundQuery, location="query", arg_name="query")
@blueprint.doc(description="What it sounds like just now, as a WAV file.", responses=file_of("audio/wav", said="A WAV file."))
def sound(instrument_id: UUID, query: SoundQuery) -> Response:
    """One or two strings as WAV. Raises BadInput or NotFound."""
    with looking() as session:
        wood = simulated_store.simulated(session, instrument_id)
    names = tuple(string.strip() for string in query.strings.split(","))
    file = io.BytesIO()
    samples = np.clip(sounded(wood, names, how=query.how, seconds=query.seconds), -1.0, 1.0)
    soundfile.write(file, samples, 44_100, format="WAV", subtype="PCM_16")
    return Response(file.getvalue(), mimetype="audio/wav")


@blueprint.get("/instruments/<uuid:instrument_id>/simulated/display/<string>")
@blueprint.output(ResultOf[Heard])
def display(instrument_id: UUID, string: str) -> ResultOf[Heard]:
    """What a simulated tuner shows of a string just now; it flickers, and now and then flashes a wrong name first.

    Raises BadInput or NotFound.
    """
    with looking() as session:
        heard = displayed(simulated_store.simulated(session, instrument_id), string, np.random.default_rng())
    return ResultOf[Heard](Heard(heard.note, heard.cents))


@sock.route("/api/simulated/live")  # type: ignore[untyped-decorator]
def live(ws: Server) -> None:
    """A simulated instrument's sound, as long as the client stays: 16-bit mono PCM, 50 ms a message.

    Raises BadInput, Conflict or TurnedAway.
    """
    from flask import current_app

    from pondus.store.database import session_on

    engine = current_app.extensions["pondus_engine"]
    try:
        keeps_own_time(ws)
        with place_for("socket"):
            hello = LiveHello.model_validate_json(text_of(ws.receive(timeout=30.0)))
            must_reach(hello.instrument_id)
            player = _Player(hello, lambda: session_on(engine))
            stream(ws, player, rate_hz=hello.sample_rate, quiet_seconds=LONGEST_QUIET_SECONDS)
    except PondusError as error:
        refuse(ws, error)
    except (ConnectionClosed, OSError):  # the client is gone; so is its socket
        return


class _Player:
    """One client's simulated instrument as it sounds; what is done to it meanwhile is heard within a tenth of a second."""

    def __init__(self, hello: LiveHello, sessions: Callable[[], AbstractContextManager[Session]]) -> None:
        self.hello, self.sessions = hello, sessions
        self.voices: dict[str, Voice] = {}
        self.changed: datetime | None = None
        self.wood: Wood = self._look()
        self.looked_at = time.monotonic()
        self.rng = np.random.default_rng()

    def _look(self) -> Wood:
        """It as it stands now; read anew only where it has changed."""
        with self.sessions() as session:
            changed = simulated_store.changed_at(session, self.hello.instrument_id)
            if changed is None or changed != self.changed:
                self.wood, self.changed = simulated_store.simulated(session, self.hello.instrument_id), changed
            return self.wood

    @property
    def is_quiet(self) -> bool:
        """Whether nothing sounds just now."""
        return not self.voices

    def take(self, message: str) -> None:
        """Start what is asked for; what sounds already goes on."""
        asked = LivePlay.model_validate_json(message)
        self.wood = self._look()
        if len(asked.strings) > 2:
            raise BadInput("strings", "A bow sounds one string, or two neighbours.")
        going = {
            name: voice for name, voice in self.voices.items() if asked.how == "bow" == voice.how and name in asked.strings
        }
        self.voices = {
            name: going.get(name) or Voice(self.wood, name, asked.how, self.hello.sample_rate) for name in asked.strings
        }

    def block(self, samples: int) -> NDArray[np.float64]:
        """The next samples."""
        if self.voices and time.monotonic() - self.looked_at > LOOKED_AT_EVERY_SECONDS:
            self.wood, self.looked_at = self._look(), time.monotonic()
        return sounded_block(self.voices, self.wood, self.rng, samples)
