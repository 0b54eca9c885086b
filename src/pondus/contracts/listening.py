"""Live listening: the first message of a client, and what the server says."""

import base64
from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from pondus.contracts.advice import Target, fifth_cents_of
from pondus.contracts.base import Contract, Result
from pondus.contracts.fifth import FifthResult
from pondus.contracts.hearing import HearingResult
from pondus.core.errors import BadInput
from pondus.core.figures import Cents, Hundredth, Hz, Tenth
from pondus.core.hearing.double_stop import FIFTH_REFUSED_SAID, check_neighbours
from pondus.core.hearing.hear import Reason
from pondus.core.hearing.live import Listener
from pondus.core.hearing.live_beside import BesideToneListener
from pondus.core.hearing.live_fifth import FifthListener, FifthLook, FifthSettled, HearsFifth, ToldFifth
from pondus.core.hearing.look import Ask, Hears, Look, Settled
from pondus.core.hearing.own_level import LEVELS_KEPT
from pondus.core.hearing.said import now_said, said_of
from pondus.core.hearing.sound import HIGHEST_RATE_HZ, LOWEST_RATE_HZ, Samples
from pondus.core.hearing.stream import LOOK_EVERY_SECONDS
from pondus.core.hearing.told import Told
from pondus.core.instruments import Kind, instrument_named
from pondus.core.judgement.followed import answers_beside, differs_said, stop_said
from pondus.core.judgement.heard import ShownSide
from pondus.core.pitch.notes import Spelling, check_a4


class ListenRequest(Contract):
    """The first message: what is being played, and at which rate the sound will come."""

    instrument: Kind
    string: str | None = None
    a4: float = 440.0
    target: Target = "tempered"
    sample_rate: int
    spelling: Spelling = "sharps"
    listen_for: Literal["string", "fifth"] = "string"
    strings: Annotated[tuple[str, str], Field(strict=False)] | None = None
    beside_tone: Annotated[
        int | None, Field(description="Its tone sounds with the string, so many octaves up (see GET /tone, followed).")
    ] = None

    def listener(self) -> Listener | FifthListener | BesideToneListener:
        """A listener for it. Raises BadInput."""
        if self.listen_for == "fifth":
            return self.fifth_listener()
        if self.strings is not None:
            raise BadInput("strings", "Two strings are heard together only with listen_for fifth; add it.")
        return self.string_listener()

    def string_listener(self, told: Told | None = None, own_levels_db: Sequence[float] = ()) -> Listener | BesideToneListener:
        """One that hears single strings; ``told``: in the middle of a sounding; ``own_levels_db``: how loud the last were.
        Raises BadInput.
        """
        self._check_rate()
        if self.beside_tone is not None:
            return self._beside_tone_listener(self.beside_tone, told)
        return Listener(
            instrument_named(self.instrument),
            rate_hz=self.sample_rate,
            string=self.string,
            a4=check_a4(self.a4),
            fifth_cents=fifth_cents_of(self.target),
            spelling=self.spelling,
            told=told,
            own_levels_db=own_levels_db,
        )

    def _beside_tone_listener(self, octaves_up: int, told: Told | None) -> BesideToneListener:
        if self.string is None:
            raise BadInput("string", "Beside a tone one string is heard; name the one whose tone sounds.")
        return BesideToneListener(
            instrument_named(self.instrument),
            rate_hz=self.sample_rate,
            string=self.string,
            octaves_up=octaves_up,
            a4=check_a4(self.a4),
            fifth_cents=fifth_cents_of(self.target),
            spelling=self.spelling,
            told=told,
        )

    def _check_rate(self) -> None:
        if not LOWEST_RATE_HZ <= self.sample_rate <= HIGHEST_RATE_HZ:
            raise BadInput(
                "sample_rate",
                f"A rate of {self.sample_rate} samples per second is outside {LOWEST_RATE_HZ}–{HIGHEST_RATE_HZ};"
                " browsers send 44100 or 48000.",
            )

    def fifth_listener(self, told: ToldFifth | None = None) -> FifthListener:
        """One that hears two neighbours together; ``told``: in the middle of a sounding. Raises BadInput."""
        self._check_rate()
        instrument = instrument_named(self.instrument)
        if self.string is not None:
            raise BadInput("string", "A fifth has two strings; name them in strings, lower first, or leave them out.")
        if self.strings is not None:
            check_neighbours(instrument, self.strings)
        return FifthListener(
            instrument,
            rate_hz=self.sample_rate,
            strings=self.strings,
            a4=check_a4(self.a4),
            fifth_cents=fifth_cents_of(self.target),
            told=told,
        )


LOOKS_FOR_A_FIFTH = 6
"""Of the sound sent, that the last so many looks are heard for a fifth: twice, a sixth of a second apart."""


class SoundSoFar(Contract):
    """Where no socket can be had: the last of the sound, 16-bit little-endian mono PCM as Base64, from where the
    answer before said. ``told`` or ``told_fifth``, and ``own_levels_db``, as the answer before had them.
    """

    listen: ListenRequest
    sound: Annotated[str, Field(max_length=900_000)]
    told: Told | None = None
    told_fifth: ToldFifth | None = None
    own_levels_db: Annotated[list[Annotated[float, Field(ge=-200.0, le=20.0)]], Field(max_length=LEVELS_KEPT)] = Field(
        default_factory=list
    )

    def heard(self) -> "HeardSoFar":
        """Hear it from its beginning. Raises BadInput."""
        return self._fifth() if self.listen.listen_for == "fifth" else self._string()

    def _samples(self) -> Samples:
        try:
            return np.frombuffer(base64.b64decode(self.sound, validate=True), "<i2").astype(np.float32) / 32768.0
        except ValueError:
            raise BadInput("sound", "The sound isn't 16-bit PCM as Base64; send it anew.") from None

    def _string(self) -> "HeardSoFar":
        listener = self.listen.string_listener(self.told, self.own_levels_db)
        samples = self._samples()
        look, step, done, at_done = None, round(LOOK_EVERY_SECONDS * listener.rate_hz), 0, self.told
        for start in range(0, len(samples), step):
            end = min(start + step, len(samples))
            for said in listener.feed(samples[start:end]):
                if isinstance(said, Settled):
                    return HeardSoFar.of(look, said, listener.told, end, listener.own_levels_db)
                look = said
                if listener.is_silent:  # what was before it is over
                    done, at_done = end, None
        return HeardSoFar.of(look, None, at_done, done, listener.own_levels_db)

    def _fifth(self) -> "HeardSoFar":
        listener = self.listen.fifth_listener(self.told_fifth)
        samples = self._samples()
        said = listener.feed(samples, at_most=LOOKS_FOR_A_FIFTH)
        settled = next((event for event in said if isinstance(event, FifthSettled)), None)
        look = next((event for event in reversed(said) if isinstance(event, FifthLook)), None)
        return HeardSoFar.of_fifth(look, settled, listener.told, len(samples) if listener.is_silent else 0)


class ReadyMessage(Result):
    """The server listens."""

    type: Literal["ready"] = "ready"


class EarOut(Result):
    """A string beside its tone: what an ear may say of it without differing from what is heard (``may_say``), what is said
    where it does (``differs``), and what is said at once where it might break (``stop``).
    """

    may_say: list[ShownSide]
    differs: str
    stop: str | None

    @classmethod
    def of(cls, look: Look) -> "EarOut | None":
        """From the core's look; None: no tone, or no string beside it."""
        if not look.is_beside_tone or look.string is None or look.string_cents is None:
            return None
        name, cents = look.string, look.string_cents
        return cls(may_say=list(answers_beside(cents)), differs=differs_said(name, cents), stop=stop_said(name, cents))


class LookMessage(Result):
    """What is heard right now, at least 15 times a second. ``type`` is "reading". ``said``: what to do, where this
    sounding gives no reading; ``is_softer``: so much softer than the instrument's own strings that it is taken for another's.
    ``now``: what is heard just now, in words; ``ear``: beside its tone, what an ear is told. ``room_db``: how loud the room is
    around it, null where not known.
    """

    type: Literal["reading"] = "reading"
    hears: Hears
    now: str
    level_db: Tenth
    clipping: bool
    hz: Hz | None
    note: str | None
    cents: Cents | None
    string: str | None
    string_cents: Cents | None
    reason: Reason | None = None
    said: str | None = None
    is_softer: bool = False
    room_db: Tenth | None = None
    ear: EarOut | None = None

    @classmethod
    def of(cls, look: Look) -> "LookMessage":
        """From the core's look."""
        return cls.filled(look, said=said_of(look), now=now_said(look), ear=EarOut.of(look), type="reading")


class SettledMessage(Result):
    """A reading that has held; ``ask`` says why a person should confirm it first, null: keep it."""

    type: Literal["settled"] = "settled"
    reading: HearingResult
    ask: Ask | None

    @classmethod
    def of(cls, settled: Settled) -> "SettledMessage":
        """From the core's settled reading."""
        return cls(reading=HearingResult.of(settled.reading, file=None), ask=settled.ask)


class FifthMessage(Result):
    """What is heard right now of two strings together. ``type`` is "fifth"; figures are null until there is one."""

    type: Literal["fifth"] = "fifth"
    hears: HearsFifth
    level_db: Tenth
    clipping: bool
    strings: tuple[str, str] | None
    from_pure_cents: Cents | None
    beats_hz: Hz | None
    said: str | None

    @classmethod
    def of(cls, look: FifthLook) -> "FifthMessage":
        """From the core's look."""
        return cls.filled(
            look,
            type="fifth",
            from_pure_cents=None if look.heard is None else look.heard.fifth.from_pure_cents,
            beats_hz=None if look.heard is None else look.heard.fifth.beats_hz,
            said=None if look.reason is None else FIFTH_REFUSED_SAID[look.reason],
        )


class FifthSettledMessage(Result):
    """A fifth that has held."""

    type: Literal["fifth-settled"] = "fifth-settled"
    strings: tuple[str, str]
    fifth: FifthResult
    plus_minus_cents: float
    confidence: Hundredth

    @classmethod
    def of(cls, settled: FifthSettled) -> "FifthSettledMessage":
        """From the core's settled fifth."""
        return cls(
            strings=settled.strings,
            fifth=FifthResult.of(settled.heard, file=None),
            plus_minus_cents=round(settled.heard.plus_minus_cents, 3),
            confidence=settled.heard.confidence,
        )


class HeardSoFar(Result):
    """What is heard at the end of a sound that was sent, or the reading or fifth that settled in it. The first ``until``
    samples are done with: only what comes after is to be sent from now on, with ``told``, ``told_fifth`` and
    ``own_levels_db`` (how loud the last readings were) as they are here.
    """

    look: Annotated[LookMessage | FifthMessage, Field(discriminator="type")] | None
    settled: Annotated[SettledMessage | FifthSettledMessage, Field(discriminator="type")] | None
    told: Told | None
    told_fifth: ToldFifth | None
    own_levels_db: list[float]
    until: int

    @classmethod
    def of(
        cls, look: Look | None, settled: Settled | None, told: Told | None, until: int, own_levels_db: Sequence[float]
    ) -> "HeardSoFar":
        """From the core's words."""
        return cls(
            look=None if look is None else LookMessage.of(look),
            settled=None if settled is None else SettledMessage.of(settled),
            told=told,
            told_fifth=None,
            own_levels_db=[round(level, 1) for level in own_levels_db],
            until=until,
        )

    @classmethod
    def of_fifth(cls, look: FifthLook | None, settled: FifthSettled | None, told: ToldFifth | None, until: int) -> "HeardSoFar":
        """From the core's words, of two strings together."""
        return cls(
            look=None if look is None else FifthMessage.of(look),
            settled=None if settled is None else FifthSettledMessage.of(settled),
            told=None,
            told_fifth=told,
            own_levels_db=[],
            until=until,
        )


Said = Look | Settled | FifthLook | FifthSettled


def message_of(said: Said) -> LookMessage | SettledMessage | FifthMessage | FifthSettledMessage:
    """What a listener says, as it goes over the wire."""
    if isinstance(said, Look):
        return LookMessage.of(said)
    if isinstance(said, Settled):
        return SettledMessage.of(said)
    return FifthMessage.of(said) if isinstance(said, FifthLook) else FifthSettledMessage.of(said)


class RefusedMessage(Result):
    """Why the server stops listening to this client."""

    type: Literal["refused"] = "refused"
    message: str
    field: str | None = None


class ListenMessages(Result):
    """All that the server says on the socket, described here for the generated types."""

    message: Annotated[
        ReadyMessage | LookMessage | SettledMessage | FifthMessage | FifthSettledMessage | RefusedMessage,
        Field(discriminator="type"),
    ]
