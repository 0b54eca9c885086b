"""The simulated instrument: begin one, turn it, hear it. What is true of it stays here; only sound and what eyes see go out."""

import io
import time
from datetime import datetime
from uuid import UUID

import numpy as np
import soundfile
from apiflask import APIBlueprint
from flask import Response
from pydantic import BaseModel
from simple_websocket import ConnectionClosed, Server
from sqlmodel import Session

from pondus.contracts.advice import HeardContract
from pondus.contracts.listening import RefusedMessage
from pondus.contracts.simulated import (
    BeginSimulated,
    LiveHello,
    LivePlay,
    SimulatedAction,
    SimulatedOut,
    SimulatedString,
)
from pondus.core.errors import BadInput, PondusError
from pondus.core.simulated.hands import displayed
from pondus.core.simulated.turning import ease_bridge, put_right, tug, turn_head, turn_screw
from pondus.core.simulated.voice import How, Voice, sounded
from pondus.core.simulated.wood import Wood
from pondus.store import instruments as instrument_store
from pondus.store import simulated as simulated_store
from pondus.web.access import SIGN_IN, STILL_IN_SECONDS, must_reach, still_in
from pondus.web.described import file_of
from pondus.web.doors import TurnedAway
from pondus.web.listening import keeps_own_time, sock
from pondus.web.transaction import looking, transaction

blueprint = APIBlueprint("simulated", __name__, tag="Simulated instrument")
BLOCK_SECONDS, AHEAD_SECONDS, LOOKED_AT_EVERY_SECONDS = 0.05, 0.15, 0.1
LONGEST_QUIET_SECONDS = 900.0
ROOM_LEVEL = 6e-4


def _seen(instrument_id: UUID, wood: Wood) -> SimulatedOut:
    strings = [
        SimulatedString(
            name=name,
            has_screw=wood.true[name].cents_per_turn is not None,
            screw_turns=round(each.screw_turns, 3),
            reach_turns=wood.true[name].reach_turns,
            broken=each.broken,
        )
        for name, each in wood.now.items()
    ]
    return SimulatedOut(
        instrument_id=instrument_id,
        strings=strings,
        bridge=wood.bridge,
        bridge_leans=wood.leans_visibly,
        events=list(wood.events[-4:]),
    )


@blueprint.put("/instruments/<uuid:instrument_id>/simulated")
@blueprint.input(BeginSimulated, arg_name="how")
@blueprint.output(SimulatedOut)
def begin(instrument_id: UUID, how: BeginSimulated) -> SimulatedOut:
    """A simulated instrument in place of this one, tuned under an id of its own; one that was there goes."""
    with transaction() as session:
        record = instrument_store.instrument(session, instrument_id)
        twin = simulated_store.begin_simulated(session, record, seed=how.seed, start=how.start)
        return _seen(twin.instrument_id, twin.wood)


@blueprint.get("/instruments/<uuid:instrument_id>/simulated")
@blueprint.output(SimulatedOut)
def see(instrument_id: UUID) -> SimulatedOut:
    """What eyes see of it."""
    with looking() as session:
        instrument_store.instrument(session, instrument_id)
        wood = simulated_store.simulated_if_any(session, instrument_id)
        if wood is not None:
            return _seen(instrument_id, wood)
    return SimulatedOut(
        instrument_id=instrument_id, begun=False, strings=[], bridge="up", bridge_leans=False, events=[]
    )


@blueprint.post("/instruments/<uuid:instrument_id>/simulated")
@blueprint.input(SimulatedAction, arg_name="action")
@blueprint.output(SimulatedOut)
def act(instrument_id: UUID, action: SimulatedAction) -> SimulatedOut:
    """Do one thing to it."""
    with transaction() as session:
        return _seen(instrument_id, simulated_store.after(session, instrument_id, lambda wood: _done(wood, action)))


def _done(wood: Wood, action: SimulatedAction) -> Wood:
    """One action; two at once, or none, are refused."""
    asked = [action.turns is not None, action.degrees is not None, action.tug, action.ease_bridge, action.put_right]
    if sum(asked) != 1:
        raise BadInput(
            "action", "One thing at a time: a screw, a peg, a tug, the bridge, or putting right what is broken."
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
@blueprint.doc(
    description="What it sounds like just now, as a WAV file.", responses=file_of("audio/wav", said="A WAV file.")
)
def sound(instrument_id: UUID, query: SoundQuery) -> Response:
    """One or two strings as WAV."""
    with looking() as session:
        wood = simulated_store.simulated(session, instrument_id)
    names = tuple(each.strip() for each in query.strings.split(","))
    file = io.BytesIO()
    samples = np.clip(sounded(wood, names, how=query.how, seconds=query.seconds), -1.0, 1.0)
    soundfile.write(file, samples, 44_100, format="WAV", subtype="PCM_16")
    return Response(file.getvalue(), mimetype="audio/wav")


@blueprint.get("/instruments/<uuid:instrument_id>/simulated/display/<string>")
@blueprint.output(HeardContract)
def display(instrument_id: UUID, string: str) -> HeardContract:
    """What a simulated tuner shows of a string just now; it flickers, and now and then flashes a wrong name first."""
    with looking() as session:
        heard = displayed(simulated_store.simulated(session, instrument_id), string, np.random.default_rng())
    return HeardContract(note=heard.note, cents=heard.cents)


@sock.route("/api/simulated/live")  # type: ignore[untyped-decorator]
def live(ws: Server) -> None:
    """A simulated instrument's sound, as long as the client stays: 16-bit mono PCM, 50 ms a message."""
    from flask import current_app

    from pondus.store.database import session_on

    engine = current_app.extensions["pondus_engine"]
    try:
        keeps_own_time(ws)
        hello = LiveHello.model_validate_json(_text(ws.receive(timeout=30.0)))
        must_reach(hello.instrument_id)
        _Player(ws, hello, lambda: session_on(engine)).play()
    except PondusError as error:
        _refuse(ws, error)
    except (ConnectionClosed, OSError):  # the client is gone; so is its socket
        return


def _text(message: object) -> str:
    if not isinstance(message, str):
        raise BadInput("request", "Say first, as JSON text, which instrument and at which sample rate.")
    return message


def _refuse(ws: Server, error: PondusError) -> None:
    try:
        ws.send(RefusedMessage(message=error.message).model_dump_json())
        ws.close(1008, "refused")
    except (ConnectionClosed, OSError):  # the client is gone; so is its socket
        return


class _Player:
    """Streams one client's sound at the pace at which it is played."""

    def __init__(self, ws: Server, hello: LiveHello, sessions) -> None:  # type: ignore[no-untyped-def]
        self.ws, self.hello, self.sessions = ws, hello, sessions
        self.voices: dict[str, Voice] = {}
        self.changed: datetime | None = None
        self.wood: Wood = self._look()
        self.looked_at = time.monotonic()
        self.rng = np.random.default_rng()

    def _look(self) -> Wood:
        """It as it stands now; read anew only where it has changed."""
        session: Session
        with self.sessions() as session:
            changed = simulated_store.changed_at(session, self.hello.instrument_id)
            if changed is None or changed != self.changed:
                self.wood, self.changed = simulated_store.simulated(session, self.hello.instrument_id), changed
            return self.wood

    def play(self) -> None:
        """Until the client goes, or has been quiet for a quarter of an hour."""
        size = round(BLOCK_SECONDS * self.hello.sample_rate)
        due = quiet_since = time.monotonic()
        asked_at = due
        while time.monotonic() - quiet_since < LONGEST_QUIET_SECONDS:
            if time.monotonic() - asked_at > STILL_IN_SECONDS:
                asked_at = time.monotonic()
                if not still_in():
                    raise TurnedAway(401, SIGN_IN)
            message = self.ws.receive(timeout=max(0.0, due - time.monotonic() - AHEAD_SECONDS))
            if message is not None:
                self._take(LivePlay.model_validate_json(_text(message)))
                continue
            if self.voices:
                quiet_since = time.monotonic()
            self.ws.send((np.clip(self._block(size), -1.0, 1.0) * 32767.0).astype("<i2").tobytes())
            due = max(due + BLOCK_SECONDS, time.monotonic() - 2.0 * BLOCK_SECONDS)

    def _take(self, asked: LivePlay) -> None:
        """Start what is asked for; what sounds already goes on."""
        self.wood = self._look()
        if len(asked.strings) > 2:
            raise BadInput("strings", "A bow sounds one string, or two neighbours.")
        going = {
            name: voice
            for name, voice in self.voices.items()
            if asked.how == "bow" == voice.how and name in asked.strings
        }
        self.voices = {
            name: going.get(name) or Voice(self.wood, name, asked.how, self.hello.sample_rate) for name in asked.strings
        }

    def _block(self, size: int):  # type: ignore[no-untyped-def]
        if self.voices and time.monotonic() - self.looked_at > LOOKED_AT_EVERY_SECONDS:
            self.wood, self.looked_at = self._look(), time.monotonic()
        out = self.rng.normal(0.0, ROOM_LEVEL, size)
        for name in [each for each, voice in self.voices.items() if voice.is_over or not self.wood.sounds(each)]:
            del self.voices[name]
        if self.wood.bridge == "fallen":
            self.voices = {}
        for name, voice in self.voices.items():
            out = out + voice.block(size, self.wood.hz(name))
        return out
