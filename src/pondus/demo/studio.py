"""Loan instruments of a summer string camp on Tern Island, with fittings that show every state."""

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import NAMESPACE_URL, UUID, uuid5

from pondus.core.instruments import instrument_named
from pondus.store.database import engine_for, session_on
from pondus.store.instruments import add_instrument
from pondus.store.tables import InstrumentRow, ReadingRow, StringRow, TuningRow
from pondus.store.tunings import add_entry, begin_tuning


@dataclass(frozen=True)
class _Loan:
    label: str
    kind: str
    size: str
    note: str = ""
    age_days: int = 160
    fittings: tuple[tuple[str, dict[str, Any]], ...] = ()


_LOANS = (
    _Loan("Sandpiper", "violin", "4/4"),
    _Loan("Plover", "violin", "3/4", age_days=420, note="Strings due for replacement"),
    _Loan("Turnstone", "violin", "1/2", fittings=(("G", {"peg_state": "slips"}), ("D", {"has_fine_tuner": False}))),
    _Loan("Dunlin", "violin", "1/4", fittings=(("A", {"screw_turns": 3.6}),)),
    _Loan("Avocet", "viola", "15", fittings=(("C", {"winding": "reversed"}), ("G", {"core": "synthetic"}))),
    _Loan("Curlew", "viola", "14", fittings=tuple((name, {"peg_kind": "geared"}) for name in "CGDA")),
    _Loan("Eider", "cello", "4/4", fittings=(("C", {"screw_turns": 4.0}), ("G", {"peg_state": "sticks"}))),
    _Loan("Shelduck", "cello", "3/4", fittings=tuple((name, {"has_fine_tuner": False}) for name in "CG")),
)
_FIRST_READINGS = {
    "Sandpiper": (("A", "A4", -12.0), ("D", "D4", -6.0), ("G", "F♯3", 22.0), ("E", "E5", 1.0)),
    "Eider": (("A", "A3", 2.0), ("D", "D3", 8.0), ("C", "C2", -30.0)),
    "Plover": (("A", "A4", 1.0), ("D", "D4", -2.0), ("G", "G3", 2.0), ("E", "E5", -1.0)),
    "Turnstone": (("A", "A4", -9.0), ("D", "D4", -2.0), ("G", "B2", 12.0), ("E", "E5", 3.0)),
    "Dunlin": (("A", "A4", 14.0), ("D", "D4", -7.0), ("G", "G3", -11.0), ("E", "E5", 6.0)),
    "Avocet": (("A", "A4", -6.0), ("D", "D4", -8.0), ("G", "F♯3", 40.0), ("C", "C3", -4.0)),
    "Shelduck": (("A", "A3", -2.0), ("D", "D3", 5.0), ("G", "G2", -22.0), ("C", "C2", -16.0)),
}


def demo_id(name: str) -> UUID:
    """The same id each time the demo is built, so that building it again adds nothing."""
    return uuid5(NAMESPACE_URL, f"pondus:demo:{name}")


def fill(url: str) -> None:
    """Put the demo studio into a database; what is there already stays as it is."""
    engine = engine_for(url)
    today = datetime.now(UTC)
    with session_on(engine) as session:
        for loan in _LOANS:
            row = InstrumentRow(
                id=demo_id(loan.label), label=loan.label, kind=loan.kind, size=loan.size, note=loan.note
            )
            fittings = dict(loan.fittings)
            put_on = (today - timedelta(days=loan.age_days)).date()
            strings = [
                StringRow(
                    id=demo_id(f"{loan.label}:{name}"),
                    instrument_id=row.id,
                    name=name,
                    put_on=put_on,
                    **fittings.get(name, {}),
                )
                for name in instrument_named(loan.kind).string_names
            ]
            add_instrument(session, row, strings)
        for label, readings in _FIRST_READINGS.items():
            loan = next(each for each in _LOANS if each.label == label)
            stance = "turned" if loan.kind == "cello" else "lap"
            tuning = TuningRow(id=demo_id(f"{label}:tuning"), instrument_id=demo_id(label), stance=stance)
            if begin_tuning(session, tuning).readings:
                continue
            for place, (string, note, cents) in enumerate(readings):
                add_entry(
                    session,
                    ReadingRow(
                        id=demo_id(f"{label}:{string}:reading"),
                        tuning_id=tuning.id,
                        string=string,
                        note=note,
                        cents=cents,
                        at=today + timedelta(seconds=place),
                    ),
                )
    engine.dispose()
