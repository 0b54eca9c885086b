"""The chain of fifths of a tuning: how it stands, the next move, checks to keep; and ensembles that clash."""

from typing import BinaryIO, cast
from uuid import UUID

from apiflask import APIBlueprint
from apiflask.fields import UploadFile
from pydantic import BaseModel

from pondus.contracts.advice import fifth_cents_of
from pondus.contracts.bench import Strike
from pondus.contracts.fifth_check import DoubleStopCheck, HarmonicsCheck, NewFifthCheck, TappedCheck
from pondus.contracts.fifths import (
    EnsembleIn,
    EnsembleOut,
    FifthsOut,
    LetterOut,
    TemperamentEffectOut,
    TemperamentsOut,
)
from pondus.core.chain import Pair
from pondus.core.ensemble import WIDTHS, Member, clash_in_words, clashes, temperament_effect
from pondus.core.errors import BadInput
from pondus.core.fifths import checked_fifth, strings_of_harmonics
from pondus.core.fifths_view import fifths_view
from pondus.core.hearing.double_stop import FIFTH_REFUSED_SAID, FifthRefusal, check_neighbours, hear_any_fifth
from pondus.core.instruments import Instrument, instrument_named
from pondus.core.log.fifth_checks import last_before
from pondus.core.log.records import FifthCheck
from pondus.core.pitch import check_a4, check_heard_hz
from pondus.core.tapping import SmallMove, fifth_from_taps
from pondus.core.targets import targets_hz
from pondus.core.typed import parse_typed_harmonic
from pondus.recordings import read_sound
from pondus.store import fifths as fifth_store
from pondus.store import instruments as instrument_store
from pondus.store import tunings as tuning_store
from pondus.store.tables import FifthCheckRow, TuningRow, now
from pondus.web.bench import load
from pondus.web.doors import at_most, uploads
from pondus.web.entries import struck_reason
from pondus.web.transaction import looking, transaction

blueprint = APIBlueprint("fifths", __name__, tag="Fifths")


def _fifths_of(tuning_id: UUID) -> FifthsOut:
    with looking() as session:
        loaded = load(session, tuning_id)
    view = fifths_view(loaded.instrument, loaded.log, loaded.measured, clock=loaded.clock)
    effect = TemperamentEffectOut.model_validate(temperament_effect(loaded.row.fifth_cents))
    return FifthsOut.model_validate({**loaded.about, **view.__dict__, "effect": effect})


@blueprint.get("/tunings/<uuid:tuning_id>/fifths")
@blueprint.output(FifthsOut)
def chain_of_tuning(tuning_id: UUID) -> FifthsOut:
    """The chain as it stands: strings, fifths, the move that mends most, what each fifth sounds like."""
    return _fifths_of(tuning_id)


@blueprint.post("/tunings/<uuid:tuning_id>/fifths")
@blueprint.input(NewFifthCheck, arg_name="new")
@blueprint.output(FifthsOut)
def add_check(tuning_id: UUID, new: NewFifthCheck) -> FifthsOut:
    """Keep a check of a fifth; sent twice, it is kept once."""
    return keep_check(tuning_id, new)


def keep_check(tuning_id: UUID, new: NewFifthCheck) -> FifthsOut:
    """Store a check and show the chain. Raises BadInput, NotFound, Conflict."""
    with transaction() as session:
        tuning = tuning_store.tuning_row(session, tuning_id)
        record = instrument_store.instrument(session, tuning.instrument_id)
        instrument = instrument_named(record.instrument.kind)
        pair = check_neighbours(instrument, (new.lower, new.upper), field="lower")
        missing = set(pair) - {row.name for row in record.strings}
        if missing:
            raise BadInput("lower", f"The {missing.pop()} string is taken off this instrument; put one on first.")
        earlier = last_before(tuning_store.tuning_log(session, tuning_id), pair, new.id)
        row = _row(new, tuning, instrument, pair, earlier)
        row.made_on, row.device = new.made_on, new.device
        fifth_store.add_check(session, row)
    return _fifths_of(tuning_id)


class RecordingForm(BaseModel):
    """A recording of a double stop, and the id of the check that it becomes."""

    file: UploadFile
    id: UUID


@blueprint.post("/tunings/<uuid:tuning_id>/fifths/recording")
@uploads
@at_most("recordings")
@blueprint.input(RecordingForm, location="form_and_files", arg_name="form")
@blueprint.output(FifthsOut)
def add_recording(tuning_id: UUID, form: RecordingForm) -> FifthsOut:
    """Hear whichever two neighbours sound together in a recording and keep that check; refused with the reason where none
    do.
    """
    name = form.file.filename or "recording"
    sound = read_sound(cast(BinaryIO, form.file.stream), name=name)
    with looking() as session:
        tuning = tuning_store.tuning_row(session, tuning_id)
        kind = instrument_store.instrument(session, tuning.instrument_id).instrument.kind
    heard = hear_any_fifth(sound, instrument_named(kind), a4=tuning.a4, fifth_cents=tuning.fifth_cents)
    if isinstance(heard, FifthRefusal):
        raise BadInput("file", f"“{name}”: {FIFTH_REFUSED_SAID[heard.reason]}.")
    (lower, upper), fifth = heard
    check = DoubleStopCheck(
        way="double-stop",
        lower_hz=fifth.lower_hz,
        upper_hz=fifth.upper_hz,
        plus_minus_cents=fifth.plus_minus_cents,
        source="recording",
    )
    return keep_check(tuning_id, NewFifthCheck(id=form.id, lower=lower, upper=upper, check=check))


@blueprint.post("/fifths/<uuid:check_id>/strike")
@blueprint.input(Strike, arg_name="strike")
@blueprint.output(FifthsOut)
def strike_check(check_id: UUID, strike: Strike) -> FifthsOut:
    """Strike a check out, with a reason; it stays in the history."""
    return _strike(check_id, struck_reason(strike))


@blueprint.delete("/fifths/<uuid:check_id>/strike")
@blueprint.output(FifthsOut, status_code=200)
def restore_check(check_id: UUID) -> FifthsOut:
    """Bring a struck check back."""
    return _strike(check_id, None)


def _strike(check_id: UUID, reason: str | None) -> FifthsOut:
    with transaction() as session:
        tuning_id = fifth_store.strike_check(session, check_id, reason=reason).tuning_id
    return _fifths_of(tuning_id)


def _row(
    new: NewFifthCheck, tuning: TuningRow, instrument: Instrument, pair: Pair, earlier: FifthCheck | None
) -> FifthCheckRow:
    """What a check measured, as it is kept. Raises BadInput."""
    row = FifthCheckRow(
        id=new.id,
        tuning_id=tuning.id,
        lower=pair[0],
        upper=pair[1],
        at=now(),
        way=new.check.way,
        source="tapped",
        beats_hz=0.0,
    )
    targets = targets_hz(instrument, a4=tuning.a4, fifth_cents=tuning.fifth_cents)
    if isinstance(new.check, TappedCheck):
        _tapped(row, new.check, targets[pair[0]], earlier)
    else:
        lower, upper = _pitches(new.check, targets[pair[0]], targets[pair[1]], tuning.a4)
        fifth = checked_fifth(lower, upper)
        row.lower_hz, row.upper_hz, row.source = lower, upper, new.check.source
        row.from_pure_cents, row.beats_hz = fifth.from_pure_cents, fifth.beats_hz
        row.plus_minus_cents = new.check.plus_minus_cents if isinstance(new.check, DoubleStopCheck) else None
    return row


def _pitches(
    check: DoubleStopCheck | HarmonicsCheck, lower_target: float, upper_target: float, a4: float
) -> tuple[float, float]:
    if isinstance(check, DoubleStopCheck):
        return check_heard_hz(check.lower_hz, field="check.lower_hz"), check_heard_hz(
            check.upper_hz, field="check.upper_hz"
        )
    octave = parse_typed_harmonic(check.octave, near_hz=2.0 * upper_target, a4=a4, field="octave")
    twelfth = parse_typed_harmonic(check.twelfth, near_hz=3.0 * lower_target, a4=a4, field="twelfth")
    return strings_of_harmonics(octave_hz=octave, twelfth_hz=twelfth)


def _tapped(row: FifthCheckRow, check: TappedCheck, lower_target: float, earlier: FifthCheck | None) -> None:
    """The rate that was tapped, and the direction where a small move told it."""
    move = None
    if check.small_move is not None:
        if earlier is None or earlier.way != "tapped":
            raise BadInput("small_move", "Tap the beats before the small move first; then move, and tap again.")
        move = SmallMove(check.small_move.moved, check.small_move.pitch, earlier.beats_hz)
    tapped = fifth_from_taps(check.taps, lower_hz=lower_target, small_move=move)
    row.beats_hz, row.plus_minus_cents, row.from_pure_cents = (
        tapped.beats_hz,
        tapped.plus_minus_cents,
        tapped.from_pure_cents,
    )


@blueprint.post("/ensemble")
@blueprint.input(EnsembleIn, arg_name="asked")
@blueprint.output(EnsembleOut)
def ensemble(asked: EnsembleIn) -> EnsembleOut:
    """The clash table of several instruments, each with its reference and temperament."""
    members = [
        Member(each.name, instrument_named(each.instrument), check_a4(each.a4), fifth_cents_of(each.target))
        for each in asked.members
    ]
    table = clashes(members, a4=check_a4(asked.a4))
    return EnsembleOut(letters=[LetterOut.model_validate(each) for each in table], said=clash_in_words(table))


@blueprint.get("/temperaments")
@blueprint.output(TemperamentsOut)
def temperaments() -> TemperamentsOut:
    """What the widths of fifths do to the outermost strings."""
    effects = [TemperamentEffectOut.model_validate(temperament_effect(width)) for width in WIDTHS]
    return TemperamentsOut(effects=effects)
