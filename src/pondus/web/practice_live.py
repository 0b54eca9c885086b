"""`/api/practice/live`: the instrument in hand while it is bowed and turned at once, as sound.

First a JSON text message says which go, what was done so far and the sample rate; then each message is one more
action, or says what is to sound. Answers are 16-bit little-endian mono PCM, 50 ms a message, at the pace it is played
at. What was done counts where the page sends it as an answer; here it is only heard.
"""

from typing import Annotated

import numpy as np
from flask import current_app
from numpy.typing import NDArray
from pydantic import Field
from simple_websocket import ConnectionClosed, Server

from pondus.contracts.base import Contract
from pondus.contracts.practice import Actions, Sounding
from pondus.contracts.practice import Go as GoContract
from pondus.core.errors import BadInput, PondusError
from pondus.core.practice.hands import course_of
from pondus.core.practice.questions import Action, Task
from pondus.core.simulated.voice import How, Voice
from pondus.core.simulated.wood import Wood
from pondus.store.database import session_on
from pondus.web.at_once import place_for
from pondus.web.listening import keeps_own_time, sock
from pondus.web.practice import go_asked_for, sounding_of, task_of
from pondus.web.sounding import refuse, sounded_block, stream, text_of

LONGEST_QUIET_SECONDS = 300.0


class PracticeHello(Contract):
    """The first message: which go, what was done to its instrument so far, and the sample rate."""

    go: GoContract
    actions: Actions = Field(default_factory=list)
    sample_rate: Annotated[int, Field(ge=8000, le=96_000)]


class PracticeTold(Contract):
    """One thing more: an action, or what is to sound from now on (null: as before)."""

    action: Action | None = None
    sounds: bool | None = None
    how: How = "bow"
    strings: Sounding = None


@sock.route("/api/practice/live")  # type: ignore[untyped-decorator]
def practice_live(ws: Server) -> None:
    """The instrument in hand, as long as the client stays. Raises BadInput, NotFound, Conflict or TurnedAway."""
    engine = current_app.extensions["pondus_engine"]
    try:
        keeps_own_time(ws)
        with place_for("socket"):
            hello = PracticeHello.model_validate_json(text_of(ws.receive(timeout=30.0)))
            with session_on(engine) as session:
                go = go_asked_for(session, hello.go)
            in_hand = _InHand(task_of(go), tuple(hello.actions), hello.sample_rate)
            stream(ws, in_hand, rate_hz=hello.sample_rate, quiet_seconds=LONGEST_QUIET_SECONDS)
    except PondusError as error:
        refuse(ws, error)
    except (ConnectionClosed, OSError):  # the client is gone; so is its socket
        return


class _InHand:
    """The instrument in hand as it sounds."""

    def __init__(self, task: Task, actions: tuple[Action, ...], rate_hz: int) -> None:
        self.task, self.actions, self.rate_hz = task, actions, rate_hz
        self.voices: dict[str, Voice] = {}
        self.wood: Wood = course_of(task, actions).now
        self.rng = np.random.default_rng()

    @property
    def is_quiet(self) -> bool:
        """Whether nothing sounds just now."""
        return not self.voices

    def take(self, message: str) -> None:
        """One more action, or what is to sound."""
        told = PracticeTold.model_validate_json(message)
        if told.action is not None:
            self.actions = (*self.actions, told.action)
            self.wood = course_of(self.task, self.actions).now
        if told.sounds is None:
            return
        if not told.sounds:
            self.voices = {}
            return
        names = sounding_of(self.task, told.strings)
        self.voices = {name: voice for name, voice in self.voices.items() if name in names}
        for name in names:
            if not self.wood.sounds(name):
                raise BadInput("string", f"The {name} string is broken; begin again.")
            if told.how == "pluck" or name not in self.voices:
                self.voices[name] = Voice(self.wood, name, told.how, self.rate_hz)

    def block(self, samples: int) -> NDArray[np.float64]:
        """The next samples."""
        return sounded_block(self.voices, self.wood, self.rng, samples)
