"""People of the studio: add, find, change, retire; and what their tunings say of their pace."""

from typing import Any
from uuid import UUID

from sqlmodel import Session, col, select

from pondus.core.stations import Done
from pondus.store.digests import Digest
from pondus.store.errors import Conflict, NotFound
from pondus.store.tables import DigestRow, InstrumentRow, PersonRow, TuningRow, now

TUNINGS_LOOKED_AT = 20


def add_person(session: Session, row: PersonRow) -> PersonRow:
    """Store a person; the same id again is the same person. Raises Conflict when the id is someone else's."""
    kept = session.get(PersonRow, row.id)
    if kept is not None:
        if (kept.name, kept.role) != (row.name, row.role):
            raise Conflict(f"That id belongs to “{kept.name}” already; give the new person an id of their own.")
        return kept
    session.add(row)
    session.flush()
    return row


def people(session: Session, *, retired: bool = False) -> list[PersonRow]:
    """Everyone on the roll, staff first, then by name; ``retired``: also those who left."""
    asked = select(PersonRow)
    if not retired:
        asked = asked.where(col(PersonRow.retired_at).is_(None))
    order = {"teacher": 0, "helper": 1, "player": 2}
    return sorted(session.exec(asked).all(), key=lambda each: (order[each.role], each.name.casefold()))


def person(session: Session, person_id: UUID) -> PersonRow:
    """One person. Raises NotFound."""
    row = session.get(PersonRow, person_id)
    if row is None:
        raise NotFound("There is no such person on the roll; look at the list.")
    return row


def change_person(session: Session, person_id: UUID, changes: dict[str, Any]) -> PersonRow:
    """Change a person. Raises NotFound."""
    row = person(session, person_id)
    for key, value in changes.items():
        setattr(row, key, value)
    session.add(row)
    session.flush()
    return row


def retire_person(session: Session, person_id: UUID, *, back: bool = False) -> PersonRow:
    """Someone leaves the studio (or comes back): their instruments are free again, what they tuned stays. Raises NotFound."""
    row = person(session, person_id)
    row.retired_at = None if back else (row.retired_at or now())
    if not back:
        for each in session.exec(select(InstrumentRow).where(InstrumentRow.player_id == person_id)).all():
            each.player_id = None
            session.add(each)
    session.add(row)
    session.flush()
    return row


def done(digest: Digest) -> Done:
    """A tuning as the estimate of minutes takes it."""
    strings = digest.strings.values()
    return Done(sum(each.screw_moves for each in strings), sum(each.peg_moves for each in strings), digest.minutes)


def tuned_by(session: Session, person_id: UUID) -> list[Done]:
    """The last tunings someone did."""
    found = session.exec(
        select(DigestRow.content)
        .join(TuningRow, col(TuningRow.id) == col(DigestRow.tuning_id))
        .where(TuningRow.done_by == person_id)
        .order_by(col(DigestRow.started_at).desc())
        .limit(TUNINGS_LOOKED_AT)
    ).all()
    return [
        Done(
            sum(each["screw_moves"] for each in content["strings"].values()),
            sum(each["peg_moves"] for each in content["strings"].values()),
            content["minutes"],
        )
        for content in found
    ]
