"""Live listening: the first message of a client, and what the server says."""

from typing import Annotated, Literal

from pydantic import Field

from pondus.contracts.advice import Target, fifth_cents_of, hundredth
from pondus.contracts.base import Contract, Result
from pondus.contracts.hearing import HearingResult
from pondus.core.errors import BadInput
from pondus.core.hearing.live import Ask, Hears, Listener, Look, Settled
from pondus.core.hearing.sound import HIGHEST_RATE_HZ, LOWEST_RATE_HZ
from pondus.core.instruments import Kind, instrument_named
from pondus.core.pitch import Spelling, check_a4


class ListenRequest(Contract):
    """The first message: what is being played, and at which rate the sound will come."""

    instrument: Kind
    string: str | None = None
    a4: float = 440.0
    target: Target = "tempered"
    sample_rate: int
    spelling: Spelling = "sharps"

    def listener(self) -> Listener:
        """A listener for it. Raises BadInput."""
        if not LOWEST_RATE_HZ <= self.sample_rate <= HIGHEST_RATE_HZ:
            raise BadInput(
                "sample_rate",
                f"A rate of {self.sample_rate} samples per second is outside {LOWEST_RATE_HZ}–{HIGHEST_RATE_HZ};"
                " browsers send 44100 or 48000.",
            )
        return Listener(
            instrument_named(self.instrument),
            rate_hz=self.sample_rate,
            string=self.string,
            a4=check_a4(self.a4),
            fifth_cents=fifth_cents_of(self.target),
            spelling=self.spelling,
        )


class ReadyMessage(Result):
    """The server listens."""

    type: Literal["ready"] = "ready"


class LookMessage(Result):
    """What is heard right now, at least 15 times a second. ``type`` is "reading"."""

    type: Literal["reading"] = "reading"
    hears: Hears
    level_db: float
    clipping: bool
    hz: float | None
    note: str | None
    cents: float | None
    string: str | None
    string_cents: float | None

    @classmethod
    def of(cls, look: Look) -> "LookMessage":
        """From the core's look."""
        return cls(
            hears=look.hears,
            level_db=round(look.level_db, 1),
            clipping=look.clipping,
            hz=None if look.hz is None else round(look.hz, 3),
            note=look.note,
            cents=hundredth(look.cents),
            string=look.string,
            string_cents=hundredth(look.string_cents),
        )


class SettledMessage(Result):
    """A reading that has held; ``ask`` says why a person should confirm it first, null: keep it."""

    type: Literal["settled"] = "settled"
    reading: HearingResult
    ask: Ask | None

    @classmethod
    def of(cls, settled: Settled) -> "SettledMessage":
        """From the core's settled reading."""
        return cls(reading=HearingResult.of(settled.reading, file=None), ask=settled.ask)


class RefusedMessage(Result):
    """Why the server stops listening to this client."""

    type: Literal["refused"] = "refused"
    message: str
    field: str | None = None


class ListenMessages(Result):
    """All that the server says on the socket, described here for the generated types."""

    message: Annotated[ReadyMessage | LookMessage | SettledMessage | RefusedMessage, Field(discriminator="type")]
