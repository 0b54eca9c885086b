"""What is kept of a tuning, as the core takes it: readings, moves, checks of fifths, how it was done, what is on the
instrument.

Times are UTC, frequencies Hz, screw positions turns from the middle (positive screwed in).
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime
from typing import Literal
from uuid import UUID

from pondus.core.instruments import Instrument, Kind, StringCore, instrument_named
from pondus.core.instruments.holds import Stance
from pondus.core.judgement.habits import Habit
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.recent_move import Answer, Turn
from pondus.core.judgement.situation import (
    BridgeState,
    FineTuner,
    Peg,
    PegKind,
    PegState,
    Situation,
    StringPlace,
    Turning,
    Who,
    Winding,
    situation,
    usual_turning,
)
from pondus.core.judgement.string_order import StringOrder
from pondus.core.pitch.notes import Spelling, parse_note, shift_hz, spelling_of

CheckWay = Literal["double-stop", "harmonics", "tapped", "by-ear"]


@dataclass(frozen=True)
class Entry:
    """What every line of a log has. ``seq``: its place in its instrument's log; what was reckoned stands between two places.
    ``void_reason`` says why it was voided; ``entered_by``: whose device it came from, where people sign in.
    """

    id: UUID
    string: str
    seq: float
    at: datetime
    voided: bool = False
    void_reason: str | None = None
    late: bool = False
    entered_by: UUID | None = None

    @property
    def counts(self) -> bool:
        """Whether it says anything of the string now."""
        return not self.voided and not self.late


@dataclass(frozen=True)
class Reading(Entry):
    """One string as it was heard. ``turn_answer``: what was said of the turn that was taken as made before it. ``passing``: it
    was heard on the way, while the hand still turned. ``read_at_a4``: the tuner's reference (Hz), where that is known.
    ``as_shown``: what the tuner showed, where more is known of it by now; ``misread``: nothing explains it, and it didn't come
    again; ``retuned``: the reference has moved since, and it doesn't say where the string stands now.
    """

    heard: Heard = field(default_factory=Heard)
    spread_cents: float | None = None
    source: str = "typed"
    sure_of_string: bool = False
    turn_answer: Answer | None = None
    read_at_a4: float | None = None
    passing: bool = False
    as_shown: Heard | None = None
    misread: bool = False
    retuned: bool = False

    @property
    def counts(self) -> bool:
        """Whether it says anything of the string now: where it rests."""
        return super().counts and not (self.passing or self.misread or self.retuned)

    @property
    def is_live(self) -> bool:
        """Whether a microphone took it, which hears a string again and again."""
        return self.source in ("microphone", "simulated")

    def hz(self, a4: float) -> float | None:
        """The reading in Hz, ``a4`` in Hz; None where its octave isn't known, or there was no figure."""
        heard = self.heard
        if heard.hz is not None or heard.note is None:
            return heard.hz
        if heard.cents is None:
            return None
        note = parse_note(heard.note)
        return None if note.number is None else shift_hz(note.hz(a4=a4), heard.cents or 0.0)


SCREW_TURNED: Mapping[Answer, int] = {"other-peg": 0, "not-turned": -1}
"""What an answer says of this string's own screw, where it isn't as the move was told: another's was turned; or it was turned
the other way (one that wasn't turned at all is struck out).
"""


@dataclass(frozen=True)
class Move(Entry, Turn):
    """One turn, ``amount`` in the mechanism's own unit. ``answer``: what
    was said when it had no effect or went the wrong way. ``taken``: nobody told of it, a reading stands for it (its id is that
    reading's). ``exact``: its amount is known, not only where it ended. ``shown``: the amount that was shown for it, where
    its own was reckoned from what it did.
    """

    answer: Answer | None = None
    taken: bool = False
    exact: bool = True
    shown: float | None = None

    @property
    def signed_amount(self) -> float:
        """Turns or degrees, positive where it raises."""
        return self.amount if self.direction == "raise" else -self.amount


@dataclass(frozen=True)
class FifthCheck(Entry):
    """One check of a fifth (``string`` is its lower one). ``from_pure_cents``, positive wide, is None while the direction of
    tapped beats isn't known; both pitches in Hz where they were heard.
    """

    upper: str = ""
    way: CheckWay = "double-stop"
    source: str = "typed"
    beats_hz: float = 0.0
    lower_hz: float | None = None
    upper_hz: float | None = None
    from_pure_cents: float | None = None
    plus_minus_cents: float | None = None

    @property
    def pair(self) -> tuple[str, str]:
        """Both strings, lower first."""
        return self.string, self.upper


@dataclass(frozen=True)
class Tuning:
    """One sitting with one instrument, and how it was done."""

    id: UUID
    instrument_id: UUID
    started_at: datetime
    stance: Stance
    a4: float = 440.0
    fifth_cents: float = 700.0
    approach: str = "fine-tuner-first"
    tolerance_cents: float = 3.0
    who: Who = "teacher"
    spelling: Spelling = "sharps"
    order: StringOrder = "A-outward"
    done_by: UUID | None = None
    turning: Turning | None = None
    habits: tuple[Habit, ...] = ()

    @property
    def turns(self) -> Turning:
        """How the hand turns: as it was said, else by who turns."""
        return self.turning or usual_turning(self.who)


@dataclass(frozen=True)
class FittedString:
    """What is on one string's place now. ``screw_turns``: where its screw stood when somebody last looked (the log was at
    ``screw_set_seq`` then), with what other tunings turned it since; ``screw_cents``: and what they turned it by amounts that
    nobody told, in cents at pitch. ``screw_seen``: whether anybody has looked at it.
    """

    name: str
    core: StringCore = "steel"
    put_on: date | None = None
    has_fine_tuner: bool = True
    screw_turns: float = 0.0
    screw_reach_turns: float = 4.0
    screw_cents: float = 0.0
    screw_set_seq: int = 0
    screw_seen: bool = True
    fitted_at: datetime | None = None
    peg_kind: PegKind = "friction"
    peg_state: PegState = "ok"
    winding: Winding = "normal"
    state: StringPlace = "on"
    slack_since: datetime | None = None

    @property
    def sounds(self) -> bool:
        """Whether it can give a pitch."""
        return self.state == "on" and self.peg_state != "out"

    @property
    def fine_tuner(self) -> FineTuner | None:
        """Its screw as the advice takes it; None where it has none."""
        if not self.has_fine_tuner:
            return None
        reach = self.screw_reach_turns
        place = max(-reach, min(reach, self.screw_turns))
        return FineTuner(turns_from_middle=place, reach_turns=reach, is_seen=self.screw_seen)


@dataclass(frozen=True)
class FittedInstrument:
    """An instrument with the strings that are on it."""

    id: UUID
    label: str
    kind: Kind
    size: str
    strings: tuple[FittedString, ...]
    hours_per_week: float | None = None
    bridge: BridgeState = "stands"

    @property
    def facts(self) -> Instrument:
        """Its kind, as data."""
        return instrument_named(self.kind)

    def fitted(self, name: str) -> FittedString | None:
        """What is on a string's place; None where it is taken off."""
        return next((string for string in self.strings if string.name == name), None)

    @property
    def put_on(self) -> dict[str, date | None]:
        """Since when each string is on."""
        return {string.name: string.put_on for string in self.strings}


@dataclass(frozen=True)
class TuningLog:
    """A tuning with all that was entered, in the order of the log, voided and late entries included."""

    tuning: Tuning
    readings: tuple[Reading, ...] = ()
    moves: tuple[Move, ...] = ()
    checks: tuple[FifthCheck, ...] = ()

    @property
    def entries(self) -> Sequence[Entry]:
        """All that was entered, whether it counts or not."""
        return (*self.readings, *self.moves, *self.checks)

    @property
    def counting_readings(self) -> Sequence[Reading]:
        """Those that count."""
        return [reading for reading in self.readings if reading.counts]

    @property
    def counting_moves(self) -> Sequence[Move]:
        """Those that count."""
        return [move for move in self.moves if move.counts]

    @property
    def as_spelled(self) -> "TuningLog":
        """The same, its notes called as the tuner spells them that is read from: with flats, where it shows one."""
        usual = self.tuning.spelling
        found = next((reading for reading in self.counting_readings if spelling_of(reading.heard.note, usual) != usual), None)
        if found is None:
            return self
        return replace(self, tuning=replace(self.tuning, spelling=spelling_of(found.heard.note, usual)))


def age_days(put_on: date | None, today: date) -> float | None:
    """Days a string has been on; None where that isn't known."""
    return None if put_on is None else float(max(0, (today - put_on).days))


def age_when(on: date, put_on: date | None) -> float | None:
    """Days a string had been on then; None where that isn't known, or it was another string."""
    return None if put_on is None or on < put_on else float((on - put_on).days)


def situation_of(instrument: FittedInstrument, how: Tuning, string: FittedString, *, today: date) -> Situation:
    """One string as it is fitted, tuned as ``how`` has it. Raises BadInput for facts that can't be."""
    facts = situation(
        instrument.facts,
        string.name,
        size=instrument.size,
        core=string.core,
        a4=how.a4,
        fifth_cents=how.fifth_cents,
        approach=how.approach,
        tolerance_cents=how.tolerance_cents,
        fine_tuner=string.fine_tuner,
        peg=Peg(string.peg_kind, string.peg_state, string.winding),
        stance=how.stance,
        who=how.who,
        string_age_days=age_days(string.put_on, today),
        spelling=how.spelling,
        turning=how.turns,
        habits=how.habits,
        string_state=string.state,
        bridge=instrument.bridge,
    )
    return with_screw_at_start(facts, string)


def with_screw_at_start(facts: Situation, string: FittedString) -> Situation:
    """The same string, its screw where other tunings left it."""
    return with_screw_at(facts, string.screw_turns + string.screw_cents / facts.screw_rate.cents)


def with_screw_at(facts: Situation, turns: float) -> Situation:
    """The same string, its screw so many turns from the middle; past its end it is at its end."""
    tuner = facts.fine_tuner
    if tuner is None:
        return facts
    place = max(-tuner.reach_turns, min(tuner.reach_turns, turns))
    return replace(facts, fine_tuner=replace(tuner, turns_from_middle=place))
