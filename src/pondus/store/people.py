"""People of the studio: add, find, change, retire; and what their tunings say of their pace."""

from collections.abc import Collection
from typing import Any
from uuid import UUID

from pydantic import TypeAdapter
from sqlmodel import Session, col, select

from pondus.core.group.pace import Done
from pondus.core.hands.summary import TuningSummary
from pondus.core.in_order import as_looked_for
from pondus.store.errors import Conflict, NotFound
from pondus.store.tables import InstrumentRow, PersonRow, SummaryRow, TuningRow, now

TUNINGS_LOOKED_AT = 20
_SUMMARY = TypeAdapter(TuningSummary)


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
    return sorted(session.exec(asked).all(), key=lambda person: (order[person.role], as_looked_for(person.name)))


def people_named(session: Session, ids: Collection[UUID]) -> list[PersonRow]:
    """Those of these ids who are on the roll, or were."""
    if not ids:
        return []
    return list(session.exec(select(PersonRow).where(col(PersonRow.id).in_(ids))).all())


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
        free_instruments(session, person_id)
    session.add(row)
    session.flush()
    return row


def free_instruments(session: Session, person_id: UUID) -> None:
    """Whatever someone has, nobody has from now on."""
    held = select(InstrumentRow).where(InstrumentRow.player_id == person_id).order_by(col(InstrumentRow.id))
    for row in session.exec(held.with_for_update(key_share=True)).all():
        row.player_id = None
        session.add(row)


def done(summary: TuningSummary) -> Done:
    """A tuning as the estimate of minutes takes it."""
    return Done(summary.screw_moves, summary.peg_moves, summary.minutes)


def tuned_by(session: Session, person_ids: Collection[UUID]) -> dict[UUID, list[Done]]:
    """The last tunings that each of them did, of those that are worked out."""
    found: dict[UUID, list[Done]] = {key: [] for key in person_ids}
    for key in found:
        contents = session.exec(
            select(SummaryRow.content)
            .join(TuningRow, col(TuningRow.id) == col(SummaryRow.tuning_id))
            .where(TuningRow.done_by == key)
            .order_by(col(SummaryRow.started_at).desc())
            .limit(TUNINGS_LOOKED_AT)
        ).all()
        found[key] = [done(_SUMMARY.validate_python(content)) for content in contents]
    return found
