"""A studio file's records through the same door as everything else: each table's row to the core's entry and back."""

from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, get_args
from uuid import UUID

from pondus.core.clock import Clock, check_due, check_moment
from pondus.core.entries.fifth_checks import CheckSource, FifthCheckEntry, check_figures
from pondus.core.entries.instruments import instrument_entry, string_entry
from pondus.core.entries.log import move_entry, reading_entry
from pondus.core.entries.people import check_name, person_entry
from pondus.core.entries.settings import check_settings
from pondus.core.entries.texts import REASON_LETTERS, check_text
from pondus.core.entries.upkeep import care_entry, climate_entry
from pondus.core.errors import BadInput
from pondus.core.group.jobs import Clearance
from pondus.core.hands.records import CheckWay
from pondus.core.hearing.double_stop import check_neighbours
from pondus.core.instruments import Instrument, StringData, instrument_named
from pondus.core.judgement.heard import Heard, ShownSide
from pondus.core.judgement.recent_move import Answer
from pondus.core.judgement.situation import BridgeState
from pondus.core.pitch.notes import check_a4
from pondus.core.practice.drills import drill_named
from pondus.core.simulated.wood import from_plain
from pondus.lists.columns import ListKind
from pondus.store.practice import known_from, setup_from
from pondus.store.settings import zone_named
from pondus.store.tables import ImportState, RoomSource

Row = dict[str, Any]


@dataclass
class Parents:
    """What was taken so far: ids by table, the kind of each instrument, the instrument of each tuning."""

    ids: dict[str, set[UUID]] = field(default_factory=dict)
    kinds: dict[UUID, Instrument] = field(default_factory=dict)
    tunings: dict[UUID, UUID] = field(default_factory=dict)

    def instrument(self, instrument_id: UUID) -> Instrument:
        """The kind of an instrument that was taken. Raises BadInput."""
        if instrument_id not in self.kinds:
            raise BadInput("instrument_id", "Its instrument isn't in the file, or was set aside.")
        return self.kinds[instrument_id]

    def string(self, row: Row, name: str = "string") -> StringData:
        """The string that an entry of a tuning speaks of. Raises BadInput."""
        if row["tuning_id"] not in self.tunings:
            raise BadInput("tuning_id", "Its tuning isn't in the file, or was set aside.")
        return self.instrument(self.tunings[row["tuning_id"]]).string(row[name])


def check_record(table: str, row: Row, parents: Parents, clock: Clock) -> Row:
    """A record, checked, as it is to be stored. Raises BadInput with the reason why it can't be."""
    try:
        checked = _CHECKS[table](row, parents, clock)
        for key, of in _BELONGS.items():
            if key in checked and checked[key] is not None and checked[key] not in parents.ids.get(of, ()):
                raise BadInput(key, f"The {of} it belongs to isn't in the file, or was set aside.")
    except KeyError as error:
        raise BadInput(str(error.args[0]), f"It lacks its {error.args[0]}.") from None
    except (TypeError, AttributeError):
        raise BadInput("record", "It holds something of the wrong kind.") from None
    known = parents.ids.setdefault(table, set())
    own = checked.get("id", checked.get("instrument_id"))
    if not isinstance(own, UUID) or own in known:
        raise BadInput("id", "Its id is missing, or another's too.")
    known.add(own)
    return checked


_BELONGS = {
    "import_id": "import",
    "player_id": "person",
    "person_id": "person",
    "done_by": "person",
    "entered_by": "person",
    "simulated_of": "instrument",
    "instrument_id": "instrument",
    "tuning_id": "tuning",
    "practice_id": "practice",
}


def _one_of(row: Row, name: str, values: Any, *, empty: bool = False) -> None:
    value = row.get(name)
    if value is None and empty:
        return
    if value not in get_args(values):
        raise BadInput(name, f"{name} = “{value}” is unknown here; choose from {', '.join(get_args(values))}.")


def _moments(row: Row, clock: Clock, *names: str) -> Row:
    """The row with those times in UTC, each checked; what is empty stays so."""
    checked = {name: check_moment(row[name], clock, field=name) for name in names if row.get(name) is not None}
    return {**row, **checked}


def _struck(row: Row, clock: Clock) -> Row:
    if row.get("struck_reason") is not None:
        check_text(row["struck_reason"], field="struck_reason", most=REASON_LETTERS)
    return _moments(row, clock, "at", "struck_at")


def _import(row: Row, parents: Parents, clock: Clock) -> Row:
    _one_of(row, "kind", ListKind)
    _one_of(row, "state", ImportState)
    check_text(row["file_name"], field="file_name", most=200)
    return _moments(row, clock, "at", "stored_at")


def _person(row: Row, parents: Parents, clock: Clock) -> Row:
    entry = person_entry(**{name: row[name] for name in ("name", "role", "cleared", "pace", "note") if name in row})
    return {
        **_moments(row, clock, "created_at", "retired_at"),
        "name": entry.name,
        "cleared": list(entry.cleared),
        "note": entry.note,
    }


def _instrument(row: Row, parents: Parents, clock: Clock) -> Row:
    names = ("label", "kind", "size", "note", "stance", "hours_per_week", "details")
    entry = instrument_entry(**{name: row[name] for name in names if name in row}, clock=clock)
    _one_of(row, "bridge", BridgeState, empty=True)
    parents.kinds[row["id"]] = instrument_named(entry.kind)
    return {
        **_moments(row, clock, "created_at", "retired_at"),
        "label": entry.label,
        "size": entry.size,
        "details": dict(entry.details),
    }


def _string(row: Row, parents: Parents, clock: Clock) -> Row:
    parents.instrument(row["instrument_id"]).string(row["name"])
    names = (
        "core", "put_on", "has_fine_tuner", "screw_turns", "screw_reach_turns", "peg_kind", "peg_state", "winding",
        "state",
    )  # fmt: skip
    string_entry({name: row[name] for name in names if name in row}, clock)
    return _moments(row, clock, "screw_set_at", "fitted_at", "slack_since")


def _tuning(row: Row, parents: Parents, clock: Clock) -> Row:
    names = ("a4", "fifth_cents", "approach", "tolerance_cents", "stance", "who", "spelling", "order", "turning", "habits")
    instrument = parents.instrument(row["instrument_id"])
    check_settings({name: row[name] for name in names if row.get(name) is not None}, instrument=instrument)
    parents.tunings[row["id"]] = row["instrument_id"]
    return _moments(row, clock, "started_at")


def _reading(row: Row, parents: Parents, clock: Clock) -> Row:
    heard = Heard(note=row.get("note"), cents=row.get("cents"), hz=row.get("hz"), side=row.get("side"))
    _one_of(row, "side", ShownSide, empty=True)
    _one_of(row, "turn_answer", Answer, empty=True)
    if row.get("a4") is not None:
        check_a4(row["a4"])
    spread = row.get("spread_cents")
    reading_entry(parents.string(row), heard, source=row.get("source", "typed"), spread_cents=spread)
    return _struck(row, clock)


def _move(row: Row, parents: Parents, clock: Clock) -> Row:
    names = ("mechanism", "direction", "amount", "unit", "expect_cents", "expect_plus_minus")
    # Whether it had a screw then nobody can tell; it has been turned.
    entry = move_entry(parents.string(row), **{name: row.get(name) for name in names}, has_fine_tuner=True)  # type: ignore[arg-type]
    _one_of(row, "answer", Answer, empty=True)
    return {**_struck(row, clock), "amount": entry.amount, "unit": entry.unit}


def _fifth_check(row: Row, parents: Parents, clock: Clock) -> Row:
    lower, upper = parents.string(row, "lower"), parents.string(row, "upper")
    instrument = parents.instrument(parents.tunings[row["tuning_id"]])
    check_neighbours(instrument, (lower.name, upper.name), field="lower")
    _one_of(row, "way", CheckWay)
    _one_of(row, "source", CheckSource)
    names = ("beats_hz", "lower_hz", "upper_hz", "from_pure_cents", "plus_minus_cents")
    check_figures(FifthCheckEntry(row["way"], row["source"], **{name: row[name] for name in names if name in row}))
    return _struck(row, clock)


def _room(row: Row, parents: Parents, clock: Clock) -> Row:
    _one_of(row, "source", RoomSource)
    climate_entry(at=row["at"], clock=clock, humidity=row.get("humidity"), celsius=row.get("celsius"))
    return _struck(row, clock)


def _care(row: Row, parents: Parents, clock: Clock) -> Row:
    names = ("kind", "at", "string", "core", "said", "due")
    told = {name: row[name] for name in names if name in row}
    care_entry(parents.instrument(row["instrument_id"]), **told, symptom=row.get("sign"), clock=clock)
    return _struck(row, clock)


def _station(row: Row, parents: Parents, clock: Clock) -> Row:
    check_name(row["name"])
    _one_of(row, "may", Clearance)
    check_due(row["day"], clock, field="day")
    check_due(clock.day_of(_aware(row["comes_at"], clock)), clock, field="comes_at")
    told: Row = {name: None if name == "recalled" else [] for name in ("planned", "recalled") if name in row}
    return _moments({**row, **told}, clock, "since")  # what was told on that day is over


def _aware(moment: datetime, clock: Clock) -> datetime:
    if not 1990 <= moment.year <= 2200:
        raise BadInput("comes_at", f"comes_at = {moment.isoformat()} can't be right.")
    return moment if moment.tzinfo is not None else moment.replace(tzinfo=clock.zone)


def _settings(row: Row, parents: Parents, clock: Clock) -> Row:
    of = row.get("instrument_id")
    instrument = None if of is None else parents.instrument(of)
    check_settings(row["values"], instrument=instrument)
    if row["values"].get("zone") is not None:
        zone_named(row["values"]["zone"])
    return _moments(row, clock, "changed_at")


def _simulated(row: Row, parents: Parents, clock: Clock) -> Row:
    parents.instrument(row["instrument_id"])
    try:
        from_plain(row["wood"])
    except (KeyError, TypeError, ValueError, AttributeError):
        raise BadInput("wood", "That isn't a simulated instrument.") from None
    return _moments(row, clock, "changed_at")


def _practice(row: Row, parents: Parents, clock: Clock) -> Row:
    drill_named(row["drill"])
    setup_from(row["setup"])
    known_from(row["known"])
    check_due(row["day"], clock, field="day")
    return _moments(row, clock, "began_at", "ended_at")


def _practice_answer(row: Row, parents: Parents, clock: Clock) -> Row:
    check_text(row["item"], field="item", most=60)
    check_text(row["said"], field="said", most=2000)
    return _moments(row, clock, "at")


def _set_aside(row: Row, parents: Parents, clock: Clock) -> Row:
    check_text(row["reason"], field="reason", most=500)
    return row


_CHECKS: dict[str, Callable[[Row, Parents, Clock], Row]] = {
    "import": _import,
    "person": _person,
    "instrument": _instrument,
    "string": _string,
    "tuning": _tuning,
    "reading": _reading,
    "move": _move,
    "fifth_check": _fifth_check,
    "room": _room,
    "care": _care,
    "station": _station,
    "settings": _settings,
    "simulated": _simulated,
    "practice": _practice,
    "practice_answer": _practice_answer,
    "set_aside": _set_aside,
}
