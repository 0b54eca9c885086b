"""What each tuning came to: found and left, moves, what they measured. Worked out once from its entries and kept.

Whatever changes an entry calls `touched`; the digest is then made anew when it is next asked for.
"""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from itertools import pairwise
from uuid import UUID

from pydantic import TypeAdapter
from sqlalchemy import Text, cast, true, update
from sqlalchemy.dialects.postgresql import insert
from sqlmodel import Session, col, delete, select

from pondus.core.instruments import instrument_named
from pondus.core.learning import PEG_GAVE_WAY_CENTS
from pondus.core.mechanics import change_at_pitch
from pondus.core.pitch import cents_between, parse_note, shift_hz
from pondus.core.targets import targets_hz
from pondus.store.tables import DigestRow, InstrumentRow, MoveRow, ReadingRow, TuningRow


@dataclass(frozen=True)
class Measured:
    """A move between two readings: signed amount (positive raises), and the change it made, as it would be at pitch."""

    string: str
    at: datetime
    mechanism: str
    amount: float
    change_cents: float


@dataclass(frozen=True)
class Pulled:
    """One string moved, another gave way: how far each, in cents."""

    moved: str
    other: str
    went_cents: float
    gave_cents: float


@dataclass(frozen=True)
class StringDigest:
    """One string in one tuning: as found and as left (Hz; None where no reading has a known octave), and the moves it took.
    ``slips``: peg raises after which it stood lower.
    """

    found_hz: float | None
    left_hz: float | None
    target_hz: float
    readings: int = 0
    screw_moves: int = 0
    peg_moves: int = 0
    slips: int = 0


@dataclass(frozen=True)
class Digest:
    """One tuning. ``minutes`` from its first to its last entry."""

    tuning_id: UUID
    started_at: datetime
    minutes: float = 0.0
    done_by: UUID | None = None
    strings: dict[str, StringDigest] = field(default_factory=dict)
    measured: tuple[Measured, ...] = ()
    pulled: tuple[Pulled, ...] = ()


@dataclass(frozen=True)
class _Entry:
    """A reading (``amount`` None) or a move, as far as a digest needs it."""

    id: UUID
    string: str
    at: datetime
    hz: float | None = None
    mechanism: str = ""
    amount: float | None = None


_PLAIN, _LIST = TypeAdapter(Digest), TypeAdapter(list[Digest])
_CONTENT = cast(col(DigestRow.content), Text)
"""As text: parsed in one go, years of it in a moment."""
TOGETHER = 400
"""Tunings digested at a time."""


def touched(session: Session, instrument_id: UUID, tuning_id: UUID | None = None) -> None:
    """Something of an instrument changed (an entry of that tuning, or its fittings): what was worked out is out of date."""
    session.execute(
        update(InstrumentRow)
        .where(col(InstrumentRow.id) == instrument_id)
        .values(log_version=InstrumentRow.log_version + 1)
    )
    if tuning_id is not None:
        session.execute(delete(DigestRow).where(col(DigestRow.tuning_id) == tuning_id))


def digests(session: Session, instrument_id: UUID, *, newest: int | None = None) -> list[Digest]:
    """An instrument's tunings as digests, oldest first; ``newest``: only so many of the last."""
    asked = (
        select(TuningRow.id, _CONTENT)
        .outerjoin(DigestRow, col(DigestRow.tuning_id) == col(TuningRow.id))
        .where(TuningRow.instrument_id == instrument_id)
        .order_by(col(TuningRow.started_at).desc())
        .limit(newest)
    )
    found = session.exec(asked).all()
    missing = [tuning for tuning, content in found if content is None]
    for start in range(0, len(missing), TOGETHER):
        _make(session, instrument_id, missing[start : start + TOGETHER])
    if missing:
        found = session.exec(asked).all()
    return _LIST.validate_json(f"[{','.join(content for _, content in reversed(found))}]")


def newest_of_all(session: Session, count: int) -> dict[UUID, list[Digest]]:
    """The last ``count`` tunings of every instrument in use, oldest first."""
    last = (
        select(TuningRow.id)
        .where(TuningRow.instrument_id == InstrumentRow.id)
        .order_by(col(TuningRow.started_at).desc())
        .limit(count)
        .lateral()
    )
    found = session.exec(
        select(InstrumentRow.id, last.c.id, _CONTENT)
        .select_from(InstrumentRow)
        .join(last, true())
        .outerjoin(DigestRow, col(DigestRow.tuning_id) == last.c.id)
        .where(col(InstrumentRow.retired_at).is_(None), col(InstrumentRow.simulated_of).is_(None))
    ).all()
    ready: dict[UUID, list[Digest]] = defaultdict(list)
    unmade = {instrument for instrument, _, content in found if content is None}
    for instrument, _, content in found:
        if instrument not in unmade:
            ready[instrument].append(_PLAIN.validate_json(content))
    for instrument in unmade:
        ready[instrument] = digests(session, instrument, newest=count)
    for each in ready.values():
        each.sort(key=lambda digest: digest.started_at)
    return ready


def _make(session: Session, instrument_id: UUID, tuning_ids: Sequence[UUID]) -> None:
    """Digest these tunings and keep it. Holds them meanwhile, so that no entry slips in between reading and keeping."""
    kind = instrument_named(session.exec(select(InstrumentRow.kind).where(InstrumentRow.id == instrument_id)).one())
    tunings = session.exec(
        select(TuningRow).where(col(TuningRow.id).in_(tuning_ids)).order_by(col(TuningRow.id)).with_for_update()
    ).all()
    entries = _entries(session, {each.id: each.a4 for each in tunings})
    rows = []
    for row in tunings:
        targets = targets_hz(kind, a4=row.a4, fifth_cents=row.fifth_cents)
        made = digest_of(row, sorted(entries[row.id], key=lambda each: each.at), targets)
        rows.append(
            {
                "tuning_id": row.id,
                "instrument_id": instrument_id,
                "started_at": row.started_at,
                "content": _PLAIN.dump_python(made, mode="json"),
            }
        )
    if rows:
        session.execute(insert(DigestRow).on_conflict_do_nothing(), rows)


def _entries(session: Session, a4: dict[UUID, float]) -> dict[UUID, list[_Entry]]:
    """Every entry of these tunings that isn't struck out."""
    found: dict[UUID, list[_Entry]] = defaultdict(list)
    heard = session.exec(
        select(
            ReadingRow.tuning_id,
            ReadingRow.id,
            ReadingRow.string,
            ReadingRow.at,
            ReadingRow.note,
            ReadingRow.cents,
            ReadingRow.hz,
        ).where(col(ReadingRow.tuning_id).in_(a4), col(ReadingRow.struck_at).is_(None))  # type: ignore[call-overload]
    ).all()
    for tuning, entry, string, at, note, cents, hz in heard:
        found[tuning].append(_Entry(entry, string, at, hz=_hz(note, cents, hz, a4[tuning])))
    moved = session.exec(
        select(
            MoveRow.tuning_id,
            MoveRow.id,
            MoveRow.string,
            MoveRow.at,
            MoveRow.mechanism,
            MoveRow.direction,
            MoveRow.amount,
        ).where(col(MoveRow.tuning_id).in_(a4), col(MoveRow.struck_at).is_(None))  # type: ignore[call-overload]
    ).all()
    for tuning, entry, string, at, mechanism, direction, amount in moved:
        signed = amount if direction == "raise" else -amount
        found[tuning].append(_Entry(entry, string, at, mechanism=mechanism, amount=signed))
    return found


def _hz(note: str | None, cents: float | None, hz: float | None, a4: float) -> float | None:
    """A reading in Hz; None where its octave isn't known."""
    if hz is not None or note is None:
        return hz
    parsed = parse_note(note)
    return None if parsed.number is None else shift_hz(parsed.hz(a4=a4), cents or 0.0)


def digest_of(row: TuningRow, entries: Sequence[_Entry], targets: dict[str, float]) -> Digest:
    """One tuning's digest. ``entries`` in order of time, struck ones left out; ``targets`` Hz per string."""
    by_string: dict[str, list[_Entry]] = defaultdict(list)
    for each in entries:
        by_string[each.string].append(each)
    measured, changes = _measured(by_string, targets)
    lasted = (entries[-1].at - entries[0].at).total_seconds() / 60.0 if entries else 0.0
    return Digest(
        tuning_id=row.id,
        started_at=row.started_at,
        minutes=round(lasted, 3),
        done_by=row.done_by,
        strings={
            name: _string(by_string[name], target, [each for each in measured if each.string == name])
            for name, target in targets.items()
            if name in by_string
        },
        measured=tuple(measured),
        pulled=tuple(_pulled(entries, by_string, changes)),
    )


def _string(own: list[_Entry], target: float, measured: list[Measured]) -> StringDigest:
    heard = [each.hz for each in own if each.hz is not None]
    slips = sum(
        each.mechanism == "peg" and each.amount > 0.0 and each.change_cents < -PEG_GAVE_WAY_CENTS for each in measured
    )
    return StringDigest(
        found_hz=heard[0] if heard else None,
        left_hz=heard[-1] if heard else None,
        target_hz=target,
        readings=sum(each.amount is None for each in own),
        screw_moves=sum(each.mechanism == "fine-tuner" for each in own),
        peg_moves=sum(each.mechanism == "peg" for each in own),
        slips=slips,
    )


def _measured(
    by_string: dict[str, list[_Entry]], targets: dict[str, float]
) -> tuple[list[Measured], dict[UUID, float]]:
    """Every single move between two readings of known octave; and the change each made in cents, by its id."""
    measured: list[Measured] = []
    changes: dict[UUID, float] = {}
    for string, own in by_string.items():
        for before, move, after in zip(own, own[1:], own[2:], strict=False):
            if before.hz is None or after.hz is None or move.amount is None:
                continue
            change = cents_between(after.hz, before.hz)
            off = cents_between(before.hz, targets[string]) if string in targets else 0.0
            at_pitch = change_at_pitch(off, off + change)
            measured.append(Measured(string, move.at, move.mechanism, move.amount, round(at_pitch, 3)))
            changes[move.id] = change
    return measured, changes


def _pulled(
    entries: Sequence[_Entry], by_string: dict[str, list[_Entry]], changes: dict[UUID, float]
) -> Iterable[Pulled]:
    """Between two readings of a string that nobody turned, one other string moved: that is its pull."""
    moves = [each for each in entries if each.amount is not None]
    for string, own in by_string.items():
        for before, after in pairwise(own):
            if before.hz is None or after.hz is None:
                continue
            between = [each for each in moves if before.at < each.at < after.at]
            movers = {each.string for each in between}
            if len(movers) == 1 and all(each.id in changes for each in between):
                went = sum(changes[each.id] for each in between)
                yield Pulled(movers.pop(), string, round(went, 3), round(cents_between(after.hz, before.hz), 3))
