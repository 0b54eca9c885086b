"""What one tuning came to: each string as found and as left, the moves it took, and what they measured."""

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from datetime import datetime
from uuid import UUID

from pondus.core.hands.in_hand import InHand, ScrewTurned
from pondus.core.hands.last_move import Segment
from pondus.core.hands.records import FifthCheck, FittedInstrument, FittedString, TuningLog, situation_of
from pondus.core.hands.understood import Understood, understood
from pondus.core.instruments.mechanics import change_at_pitch
from pondus.core.judgement.coupling import default_coupling
from pondus.core.pitch.notes import cents_between


@dataclass(frozen=True)
class MeasuredMove:
    """A move between two readings: signed amount (turns or degrees, positive raises), and the change it made in cents, as it
    would be at pitch.
    """

    string: str
    at: datetime
    mechanism: str
    amount: float
    change_cents: float


@dataclass(frozen=True)
class MeasuredCoupling:
    """One string moved, another gave way: how far each, in cents."""

    moved: str
    other: str
    went_cents: float
    gave_cents: float


@dataclass(frozen=True)
class StringSummary:
    """One string in one tuning: as found and as left (Hz; None where no reading has a known octave), and the moves it took.
    ``slips``: peg raises after which it stood lower; ``screw``: how far its screw was turned, place by place.
    """

    found_hz: float | None
    left_hz: float | None
    target_hz: float
    readings: int = 0
    screw: tuple[ScrewTurned, ...] = ()
    screw_moves: int = 0
    peg_moves: int = 0
    slips: int = 0

    @property
    def found_cents(self) -> float | None:
        """As found, from its target; None where that isn't known."""
        return None if self.found_hz is None else cents_between(self.found_hz, self.target_hz)

    @property
    def left_cents(self) -> float | None:
        """As left, from its target; None where that isn't known."""
        return None if self.left_hz is None else cents_between(self.left_hz, self.target_hz)


@dataclass(frozen=True)
class TuningSummary:
    """One tuning. ``minutes`` from its first to its last entry."""

    tuning_id: UUID
    started_at: datetime
    minutes: float = 0.0
    done_by: UUID | None = None
    strings: dict[str, StringSummary] = field(default_factory=dict)
    measured: tuple[MeasuredMove, ...] = ()
    couplings: tuple[MeasuredCoupling, ...] = ()

    @property
    def screw_moves(self) -> int:
        """Moves of screws, over all strings."""
        return sum(string.screw_moves for string in self.strings.values())

    @property
    def peg_moves(self) -> int:
        """Moves of pegs, over all strings."""
        return sum(string.peg_moves for string in self.strings.values())


def placed(instrument: FittedInstrument, past: Iterable[TuningSummary]) -> FittedInstrument:
    """An instrument with its screws where these further tunings left them, since somebody last looked."""
    past = list(past)
    return replace(instrument, strings=tuple(_placed(string, past) for string in instrument.strings))


def _placed(string: FittedString, past: Iterable[TuningSummary]) -> FittedString:
    own = (tuning.strings[string.name] for tuning in past if string.name in tuning.strings)
    since = [screw for one in own for screw in one.screw if screw.seq > string.screw_set_seq]
    met = max((at for at, screw in enumerate(since) if screw.at_end), default=None)
    turns, cents = string.screw_turns, string.screw_cents
    if met is not None:
        turns, cents, since = since[met].at_end * string.screw_reach_turns, 0.0, since[met + 1 :]
    return replace(
        string, screw_turns=turns + sum(screw.turns for screw in since), screw_cents=cents + sum(screw.cents for screw in since)
    )


PULLED_CENTS, PULLED_SHARE = 1.5, 0.2
"""R115: a move teaches where the others pulled its string by no more than that between the readings beside it, or by no more
than that share of what it did: how far they pull is known by half at best.
"""
PEG_GAVE_WAY_CENTS = 5.0
"""A peg raise after which the string stands lower by more than this: the peg slipped back."""


def summarise(instrument: FittedInstrument, log: TuningLog, *, as_understood: Understood | None = None) -> TuningSummary:
    """One tuning's summary, from the entries that count and the moves they stand for. ``as_understood``: the log understood,
    where that is known already.
    """
    if as_understood is None:
        then = log.tuning.started_at.date()
        known = {on.name: (on, situation_of(instrument, log.tuning, on, today=then)) for on in instrument.strings}
        as_understood = understood(log, known, default_coupling(instrument.facts))
    measured = {name: list(_measured(as_understood, name, hand)) for name, hand in as_understood.strings.items()}
    times = [entry.at for entry in as_understood.log.entries if entry.counts and not isinstance(entry, FifthCheck)]
    lasted = (max(times) - min(times)).total_seconds() / 60.0 if times else 0.0
    return TuningSummary(
        tuning_id=log.tuning.id,
        started_at=log.tuning.started_at,
        minutes=round(lasted, 3),
        done_by=log.tuning.done_by,
        strings={
            name: _string(hand, measured[name])
            for name, hand in as_understood.strings.items()
            if hand.readings or hand.moves or hand.waiting
        },
        measured=tuple(move for own in measured.values() for move in own),
        couplings=tuple(one for name, hand in as_understood.strings.items() for one in _couplings(as_understood, name, hand)),
    )


def _string(hand: InHand, measured: Iterable[MeasuredMove]) -> StringSummary:
    heard = [hz for reading in hand.readings if (hz := hand.hz(reading)) is not None]
    turned = Counter(move.mechanism for move in (*hand.moves, *hand.waiting))
    return StringSummary(
        found_hz=heard[0] if heard else None,
        left_hz=heard[-1] if heard else None,
        target_hz=hand.facts.target_hz,
        readings=len(hand.readings),
        screw=hand.screw_turns,
        screw_moves=turned["fine-tuner"],
        peg_moves=turned["peg"],
        slips=sum(
            move.mechanism == "peg" and move.amount > 0.0 and move.change_cents < -PEG_GAVE_WAY_CENTS for move in measured
        ),
    )


def _measured(as_understood: Understood, name: str, hand: InHand) -> Iterable[MeasuredMove]:
    """Every single move of known amount between two figures. What the others' turns did meanwhile is taken off."""
    for segment in hand.segments:
        move = segment.moves[0] if len(segment.moves) == 1 else None
        change, here = _own_change(as_understood, name, segment), hand.where(segment.before)
        if move is None or change is None or here is None or move.mechanism == "tug" or not move.exact:
            continue
        pull = (segment.went_cents or 0.0) - change
        if abs(pull) <= max(PULLED_CENTS, PULLED_SHARE * abs(change)):
            at_pitch = change_at_pitch(here.middle + pull, here.middle + pull + change)
            yield MeasuredMove(name, move.at, move.mechanism, move.signed_amount, round(at_pitch, 3))


def _own_change(as_understood: Understood, name: str, segment: Segment) -> float | None:
    """How far a string's own turns moved it, in cents; None where that isn't known, or something was said of one of them."""
    pull = as_understood.pulled(name, since=segment.before.seq, until=segment.after.seq)
    if segment.went_cents is None or pull is None or any(move.answer is not None for move in segment.moves):
        return None
    return segment.went_cents - pull


def _couplings(as_understood: Understood, name: str, hand: InHand) -> Iterable[MeasuredCoupling]:
    """Between two readings of a string that nobody turned, one other string moved: that is its coupling. How far a hand turned
    that one needn't be known, only how far it went.
    """
    for segment in hand.segments:
        since, until = segment.before.seq, segment.after.seq
        turned = [one for one in as_understood.turns if any(since < seq < until for seq in one.seqs)]
        movers = {one.string for one in turned}
        if segment.went_cents is None or segment.moves or len(movers) != 1:
            continue
        mover = movers.pop()
        made = [one for one in as_understood.strings[mover].segments if one.moves and since < one.moves[0].seq]
        went = [_own_change(as_understood, mover, one) for one in made if one.moves[-1].seq < until]
        if len(went) == len(turned) and None not in went:
            total = sum(cents for cents in went if cents is not None)
            yield MeasuredCoupling(mover, name, round(total, 3), round(segment.went_cents, 3))
