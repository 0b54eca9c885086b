"""The chain of fifths of a tuning: how it stands, the next move, checks to keep; and ensembles that clash."""

from uuid import UUID

from apiflask import APIBlueprint
from apiflask.fields import UploadFile
from pydantic import BaseModel

from pondus.contracts.advice import fifth_cents_of
from pondus.contracts.bench import Strike
from pondus.contracts.fifth_check import ByEarCheck, DoubleStopCheck, HarmonicsCheck, NewFifthCheck, TappedCheck
from pondus.contracts.fifths import EnsembleIn, EnsembleOut, FifthsOut, TemperamentsOut
from pondus.core.entries.fifth_checks import FifthCheckEntry, by_ear_entry, double_stop_entry, harmonics_entry, tapped_entry
from pondus.core.errors import BadInput
from pondus.core.fifths.chain import Pair
from pondus.core.fifths.ensemble import WIDTHS, Member, clash_in_words, clashes, temperament_effect
from pondus.core.hands.fifth_checks import last_before
from pondus.core.hands.records import FifthCheck
from pondus.core.hearing.double_stop import FIFTH_REFUSED_SAID, FifthRefusal, check_neighbours, hear_any_fifth
from pondus.core.instruments import Instrument, instrument_named
from pondus.core.instruments.targets import targets_hz
from pondus.core.pitch.notes import check_a4
from pondus.core.views.fifths import fifths_view
from pondus.store import fifths as fifth_store
from pondus.store import instruments as instrument_store
from pondus.store import tunings as tuning_store
from pondus.store.tables import FifthCheckRow, TuningRow
from pondus.web.access import device_here
from pondus.web.bench import load
from pondus.web.doors import at_most, uploads
from pondus.web.entries import made_at, struck_reason
from pondus.web.hearing import sound_in
from pondus.web.transaction import looking, transaction

blueprint = APIBlueprint("fifths", __name__, tag="Fifths")


def _fifths_of(tuning_id: UUID) -> FifthsOut:
    with looking() as session:
        loaded = load(session, tuning_id)
    view = fifths_view(loaded.instrument, loaded.now())
    effect = temperament_effect(loaded.row.fifth_cents)
    return FifthsOut.model_validate({**loaded.about, **view.__dict__, "effect": effect})


@blueprint.get("/tunings/<uuid:tuning_id>/fifths")
@blueprint.output(FifthsOut)
def chain_of_tuning(tuning_id: UUID) -> FifthsOut:
    """The chain as it stands: strings, fifths, the move that mends most, what each fifth sounds like.

    Raises BadInput or NotFound.
    """
    return _fifths_of(tuning_id)


@blueprint.post("/tunings/<uuid:tuning_id>/fifths")
@blueprint.input(NewFifthCheck, arg_name="new")
@blueprint.output(FifthsOut)
def add_check(tuning_id: UUID, new: NewFifthCheck) -> FifthsOut:
    """Keep a check of a fifth; sent twice, it is kept once. Raises BadInput, NotFound or Conflict."""
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
        row = FifthCheckRow(
            id=new.id,
            tuning_id=tuning.id,
            lower=pair[0],
            upper=pair[1],
            at=made_at(new, tuning.started_at),
            made_on=new.made_on,
            device=new.device,
            entered_by=device_here().person,
            **_entry(new.check, tuning, instrument, pair, earlier).__dict__,
        )
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

    Raises BadInput, UnreadableSound, SoundTooLarge, NotFound, Conflict or TooOften.
    """
    sound, name = sound_in(form.file)
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
    """Strike a check out, with a reason; it stays in the history. Raises BadInput or NotFound."""
    return _strike(check_id, struck_reason(strike))


@blueprint.delete("/fifths/<uuid:check_id>/strike")
@blueprint.output(FifthsOut, status_code=200)
def restore_check(check_id: UUID) -> FifthsOut:
    """Bring a struck check back. Raises BadInput or NotFound."""
    return _strike(check_id, None)


def _strike(check_id: UUID, reason: str | None) -> FifthsOut:
    with transaction() as session:
        tuning_id = fifth_store.strike_check(session, check_id, reason=reason).tuning_id
    return _fifths_of(tuning_id)


def _entry(
    check: DoubleStopCheck | HarmonicsCheck | TappedCheck | ByEarCheck,
    tuning: TuningRow,
    instrument: Instrument,
    pair: Pair,
    earlier: FifthCheck | None,
) -> FifthCheckEntry:
    """What a check found. Raises BadInput."""
    targets = targets_hz(instrument, a4=tuning.a4, fifth_cents=tuning.fifth_cents)
    if isinstance(check, DoubleStopCheck):
        return double_stop_entry(
            check.lower_hz,
            check.upper_hz,
            pair=pair,
            targets=targets,
            source=check.source,
            plus_minus_cents=check.plus_minus_cents,
        )
    lower, upper = targets[pair[0]], targets[pair[1]]
    if isinstance(check, HarmonicsCheck):
        return harmonics_entry(
            check.octave, check.twelfth, lower_target_hz=lower, upper_target_hz=upper, a4=tuning.a4, source=check.source
        )
    moved = None if check.small_move is None else (check.small_move.moved, check.small_move.pitch)
    if isinstance(check, ByEarCheck):
        return by_ear_entry(check.heard, lower_target_hz=lower, compared=check.compared, small_move=moved, earlier=earlier)
    return tapped_entry(check.taps, lower_target_hz=lower, small_move=moved, earlier=earlier)


@blueprint.post("/ensemble")
@blueprint.input(EnsembleIn, arg_name="asked")
@blueprint.output(EnsembleOut)
def ensemble(asked: EnsembleIn) -> EnsembleOut:
    """The clash table of several instruments, each with its reference and temperament. Raises BadInput."""
    members = [
        Member(member.name, instrument_named(member.instrument), check_a4(member.a4), fifth_cents_of(member.target))
        for member in asked.members
    ]
    table = clashes(members, a4=check_a4(asked.a4))
    return EnsembleOut(letters=list(table), said=clash_in_words(table))


@blueprint.get("/temperaments")
@blueprint.output(TemperamentsOut)
def temperaments() -> TemperamentsOut:
    """What the widths of fifths do to the outermost strings."""
    effects = [temperament_effect(width) for width in WIDTHS]
    return TemperamentsOut(effects=effects)
