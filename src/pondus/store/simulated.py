"""The simulated instrument beside a studio's instrument: kept whole, changed by one action at a time."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from uuid import UUID, uuid5

from sqlmodel import Session, select

from pondus.core.simulated.weather import Start, begun
from pondus.core.simulated.wood import Fitted, Wood, as_plain, from_plain, made
from pondus.store.errors import NotFound
from pondus.store.instruments import InstrumentRecord, add_instrument, instrument
from pondus.store.tables import InstrumentRow, SimulatedRow, StringRow, now

NONE_YET = "There is no simulated instrument here yet; choose a state for it to begin in."


@dataclass(frozen=True)
class Twin:
    """The simulated instrument that stands in for a studio's: under which id it is tuned, and its wood."""

    instrument_id: UUID
    wood: Wood


def begin_simulated(session: Session, record: InstrumentRecord, *, seed: int, start: Start | None) -> Twin:
    """A new simulated instrument in place of this one, fitted as it is, in a starting state (None: in tune)."""
    twin = record if record.instrument.simulated_of is not None else _twin(session, record)
    fitted = {row.name: _fitted(row) for row in twin.strings}
    wood = made(twin.instrument.kind, seed=seed, size=twin.instrument.size, fitted=fitted)
    for row in twin.strings:
        reach = row.screw_reach_turns
        wood = wood.with_string(row.name, screw_turns=max(-reach, min(reach, row.screw_turns)))
    wood = wood if start is None else begun(wood, start)
    kept = session.get(SimulatedRow, twin.instrument.id) or SimulatedRow(instrument_id=twin.instrument.id)
    _keep(session, kept, wood)
    for row in twin.strings:
        # Another instrument: its screws stand where eyes see them, and what the last one taught no longer counts.
        row.screw_turns, row.screw_set_at, row.fitted_at = wood.now[row.name].screw_turns, now(), now()
        session.add(row)
    session.flush()
    return Twin(twin.instrument.id, wood)


def _twin(session: Session, record: InstrumentRecord) -> InstrumentRecord:
    """The stand-in of an instrument, fitted as that is now; made where there is none yet."""
    of = record.instrument
    row = InstrumentRow(
        id=uuid5(of.id, "simulated"),
        label=f"{of.label}, simulated"[:80],
        kind=of.kind,
        size=of.size,
        stance=of.stance,
        simulated_of=of.id,
    )
    copies = [
        StringRow(
            **{
                **string.model_dump(exclude={"id", "instrument_id"}),
                "id": uuid5(row.id, string.name),
                "instrument_id": row.id,
                "screw_seen": True,
            }
        )
        for string in record.strings
    ]
    kept = session.get(InstrumentRow, row.id)
    if kept is None:
        return add_instrument(session, row, copies)
    for copy in copies:
        session.merge(copy)
    session.flush()
    return instrument(session, row.id)


def simulated_if_any(session: Session, instrument_id: UUID) -> Wood | None:
    """The simulated instrument as it stands; None where there is none yet."""
    row = session.get(SimulatedRow, instrument_id)
    return None if row is None else from_plain(row.wood)


def changed_at(session: Session, instrument_id: UUID) -> datetime | None:
    """When it was last changed; None where there is none."""
    return session.exec(select(SimulatedRow.changed_at).where(SimulatedRow.instrument_id == instrument_id)).first()


def simulated(session: Session, instrument_id: UUID) -> Wood:
    """The simulated instrument as it stands. Raises NotFound."""
    wood = simulated_if_any(session, instrument_id)
    if wood is None:
        raise NotFound(NONE_YET)
    return wood


def after(session: Session, instrument_id: UUID, does: Callable[[Wood], Wood]) -> Wood:
    """Do one thing to it, and keep what it became. Raises NotFound, BadInput."""
    row = session.get(SimulatedRow, instrument_id, with_for_update=True)
    if row is None:
        raise NotFound(NONE_YET)
    wood = does(from_plain(row.wood))
    _keep(session, row, wood)
    return wood


def _keep(session: Session, row: SimulatedRow, wood: Wood) -> None:
    row.wood, row.changed_at = as_plain(wood), now()
    session.add(row)
    session.flush()


def _fitted(row: StringRow) -> Fitted:
    return Fitted(row.core, row.has_fine_tuner, row.screw_reach_turns, row.peg_kind, row.winding)
