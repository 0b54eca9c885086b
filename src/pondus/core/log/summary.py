"""What one tuning came to: each string as found and as left, the moves it took, and what they measured."""

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from itertools import pairwise
from uuid import UUID

from pondus.core.hands.in_hand import ScrewTurned
from pondus.core.hands.understood import Understood, understood
from pondus.core.judgement.coupling import Coupling, default_coupling
from pondus.core.log.learning import PEG_GAVE_WAY_CENTS
from pondus.core.log.pulls import Entry, pull_cents, turned_strings
from pondus.core.log.records import FittedInstrument, FittedString, Move, Reading, TuningLog, situation_of
from pondus.core.mechanics import change_at_pitch
from pondus.core.pitch import cents_between
from pondus.core.targets import targets_hz


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
        return sum(each.screw_moves for each in self.strings.values())

    @property
    def peg_moves(self) -> int:
        """Moves of pegs, over all strings."""
        return sum(each.peg_moves for each in self.strings.values())


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
        string,
        screw_turns=turns + sum(screw.turns for screw in since),
        screw_cents=cents + sum(screw.cents for screw in since),
    )


@dataclass(frozen=True)
class _Line:
    """A reading (``amount`` None) or a move, as far as a summary needs it."""

    id: UUID
    string: str
    seq: float
    at: datetime
    hz: float | None = None
    mechanism: str = ""
    amount: float | None = None
    teaches: bool = True


PULLED_CENTS, PULLED_SHARE = 1.5, 0.2
"""R115: a move teaches where the others pulled its string by no more than that between the readings beside it, or by no more
than that share of what it did: how far they pull is known by half at best.
"""


def summarise(instrument: FittedInstrument, log: TuningLog, *, found: Understood | None = None) -> TuningSummary:
    """One tuning's summary, from the entries that count and the moves they stand for. ``found``: the log as it is understood,
    where that is known already.
    """
    targets = targets_hz(instrument.facts, a4=log.tuning.a4, fifth_cents=log.tuning.fifth_cents)
    coupling = default_coupling(instrument.facts)
    if found is None:
        then = log.tuning.started_at.date()
        on = instrument.strings
        found = understood(
            log, {each.name: (each, situation_of(instrument, log.tuning, each, today=then)) for each in on}, coupling
        )
    log = found.log
    lines = sorted([*_heard(log.counting_readings, log.tuning.a4), *_moved(log.counting_moves)], key=_place)
    by_string: dict[str, list[_Line]] = defaultdict(list)
    for line in lines:
        by_string[line.string].append(line)
    measured, changes = _measured(by_string, targets, coupling)
    times = [line.at for line in lines]
    lasted = (max(times) - min(times)).total_seconds() / 60.0 if times else 0.0
    return TuningSummary(
        tuning_id=log.tuning.id,
        started_at=log.tuning.started_at,
        minutes=round(lasted, 3),
        done_by=log.tuning.done_by,
        strings={
            name: replace(
                _string(by_string[name], target, [move for move in measured if move.string == name]),
                screw=found.strings[name].turned if name in found.strings else (),
            )
            for name, target in targets.items()
            if name in by_string
        },
        measured=tuple(measured),
        couplings=tuple(_couplings(lines, by_string, changes)),
    )


def _place(line: _Line) -> float:
    return line.seq


def _heard(readings: Iterable[Reading], a4: float) -> list[_Line]:
    return [_Line(each.id, each.string, each.seq, each.at, hz=each.hz(a4)) for each in readings]


def _moved(moves: Iterable[Move]) -> list[_Line]:
    return [
        _Line(
            each.id,
            each.string,
            each.seq,
            each.at,
            mechanism=each.mechanism,
            amount=each.signed_amount,
            teaches=each.mechanism != "tug" and each.answer is None and each.exact,
        )
        for each in moves
    ]


def _string(own: Sequence[_Line], target: float, measured: Sequence[MeasuredMove]) -> StringSummary:
    heard = [line.hz for line in own if line.hz is not None]
    slips = sum(
        move.mechanism == "peg" and move.amount > 0.0 and move.change_cents < -PEG_GAVE_WAY_CENTS for move in measured
    )
    return StringSummary(
        found_hz=heard[0] if heard else None,
        left_hz=heard[-1] if heard else None,
        target_hz=target,
        readings=sum(line.amount is None for line in own),
        screw_moves=sum(line.mechanism == "fine-tuner" for line in own),
        peg_moves=sum(line.mechanism == "peg" for line in own),
        slips=slips,
    )


def _measured(
    by_string: Mapping[str, Sequence[_Line]], targets: Mapping[str, float], coupling: Coupling
) -> tuple[list[MeasuredMove], dict[UUID, float]]:
    """Every single move between two readings of known octave; and the change each made in cents, by its id. What the others'
    turns did meanwhile is taken off.
    """
    measured: list[MeasuredMove] = []
    changes: dict[UUID, float] = {}
    lines = [
        Entry(line.seq, line.string, line.hz, line.amount is not None) for own in by_string.values() for line in own
    ]
    turned = turned_strings(lines)
    for string, own in by_string.items():
        for before, move, after in zip(own, own[1:], own[2:], strict=False):
            if before.hz is None or after.hz is None or move.amount is None:
                continue
            if not move.teaches:
                continue
            pull = pull_cents(turned, coupling, string, since=before.seq, until=after.seq)
            if pull is None:
                continue
            change = cents_between(after.hz, before.hz) - pull
            changes[move.id] = change
            if abs(pull) > max(PULLED_CENTS, PULLED_SHARE * abs(change)):
                continue
            off = (cents_between(before.hz, targets[string]) if string in targets else 0.0) + pull
            at_pitch = change_at_pitch(off, off + change)
            measured.append(MeasuredMove(string, move.at, move.mechanism, move.amount, round(at_pitch, 3)))
    return measured, changes


def _couplings(
    lines: Sequence[_Line], by_string: Mapping[str, Sequence[_Line]], changes: Mapping[UUID, float]
) -> Iterable[MeasuredCoupling]:
    """Between two readings of a string that nobody turned, one other string moved: that is its coupling."""
    moves = [line for line in lines if line.amount is not None]
    for string, own in by_string.items():
        for before, after in pairwise(own):
            if before.hz is None or after.hz is None:
                continue
            between = [move for move in moves if before.seq < move.seq < after.seq]
            movers = {move.string for move in between}
            if len(movers) == 1 and all(move.id in changes for move in between):
                went = sum(changes[move.id] for move in between)
                gave = cents_between(after.hz, before.hz)
                yield MeasuredCoupling(movers.pop(), string, round(went, 3), round(gave, 3))
