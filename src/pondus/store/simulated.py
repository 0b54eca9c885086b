"""The simulated instrument beside a studio's instrument: kept whole, changed by one action at a time."""

from collections.abc import Callable
from datetime import datetime
from uuid import UUID

from sqlmodel import Session, select

from pondus.core.instruments import Core
from pondus.core.judgement.situation import PegKind, Winding
from pondus.core.simulated.weather import Start, begun
from pondus.core.simulated.wood import Fitted, Wood, as_plain, from_plain, made
from pondus.store.errors import NotFound
from pondus.store.instruments import InstrumentRecord
from pondus.store.tables import SimulatedRow, StringRow, now

NONE_YET = "There is no simulated instrument here yet; choose a state for it to begin in."


def begin_simulated(session: Session, record: InstrumentRecord, *, seed: int, start: Start | None) -> Wood:
    """A new simulated instrument in place of this one, fitted as it is, in a starting state (None: in tune)."""
    fitted = {row.name: _fitted(row) for row in record.strings}
    wood = made(record.instrument.kind, seed=seed, size=record.instrument.size, fitted=fitted)
    for row in record.strings:
        wood = wood.with_string(
            row.name, screw_turns=max(-row.screw_reach_turns, min(row.screw_reach_turns, row.screw_turns))
        )
    wood = wood if start is None else begun(wood, start)
    kept = session.get(SimulatedRow, record.instrument.id) or SimulatedRow(instrument_id=record.instrument.id)
    _keep(session, kept, wood)
    for row in record.strings:
        if row.has_fine_tuner and row.screw_turns != wood.now[row.name].screw_turns:
            row.screw_turns, row.screw_set_at = wood.now[row.name].screw_turns, now()
            session.add(row)
    session.flush()
    return wood


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
    core: Core = "synthetic" if row.core == "synthetic" else "steel"
    kind: PegKind = "geared" if row.peg_kind == "geared" else "friction"
    winding: Winding = "reversed" if row.winding == "reversed" else "normal"
    return Fitted(core, row.has_fine_tuner, row.screw_reach_turns, kind, winding)
