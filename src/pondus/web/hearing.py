"""`POST /api/hear` and `/api/fifth`: a recording to a reading, or to the fifth of a double stop."""

from typing import BinaryIO, cast

from apiflask import APIBlueprint
from apiflask.fields import UploadFile
from pydantic import BaseModel

from pondus.contracts.advice import FifthWidth, Target, fifth_cents_of
from pondus.contracts.base import ResultOf
from pondus.contracts.fifth import FifthResult, pair_of
from pondus.contracts.hearing import HarmonicOut, RecordingHeard
from pondus.core.errors import BadInput
from pondus.core.hearing.double_stop import hear_fifth
from pondus.core.hearing.hear import Refusal, hear, hear_tone
from pondus.core.hearing.microphone_check import MicrophoneCheck, check_microphone
from pondus.core.hearing.said import HARMONIC_REFUSED_SAID
from pondus.core.hearing.sound import Sound
from pondus.core.instruments import instrument_named
from pondus.core.pitch.notes import A4_HZ, check_a4, check_heard_hz
from pondus.recordings import read_sound
from pondus.web.doors import at_most, uploads

blueprint = APIBlueprint("hearing", __name__, tag="Hearing")


def sound_in(upload: UploadFile) -> tuple[Sound, str]:
    """The sound of an uploaded file, and what the file is called. Raises UnreadableSound or SoundTooLarge."""
    name = upload.filename or "recording"
    return read_sound(cast(BinaryIO, upload.stream), name=name), name


class HearForm(BaseModel):
    """A recording and what is known of it: all but the file and the instrument may be left out.

    ``target`` is tempered, pure, or a width as in ``{"fifth_cents": 701}``.
    """

    file: UploadFile
    instrument: str
    string: str | None = None
    a4: float | None = None
    target: str | None = None


@blueprint.post("/hear")
@uploads
@at_most("recordings")
@blueprint.input(HearForm, location="form_and_files", arg_name="form")
@blueprint.output(RecordingHeard)
def hear_recording(form: HearForm) -> RecordingHeard:
    """One recording to a reading, or the reason why there is none.

    Raises BadInput, UnreadableSound, SoundTooLarge, Conflict or TooOften.
    """
    sound, name = sound_in(form.file)
    heard = hear(
        sound,
        instrument_named(form.instrument),
        string=form.string or None,
        a4=A4_HZ if form.a4 is None else check_a4(form.a4),
        fifth_cents=fifth_cents_of(_target(form.target)),
    )
    return RecordingHeard.brought(heard, file=name)


class FifthForm(BaseModel):
    """A recording of a double stop: file, instrument, and the two strings, lower first ("D,A")."""

    file: UploadFile
    instrument: str
    strings: str
    a4: float | None = None
    target: str | None = None


@blueprint.post("/fifth")
@uploads
@at_most("recordings")
@blueprint.input(FifthForm, location="form_and_files", arg_name="form")
@blueprint.output(FifthResult)
def hear_double_stop(form: FifthForm) -> FifthResult:
    """One recording of two strings to their fifth, or the reason why there is none.

    Raises BadInput, UnreadableSound, SoundTooLarge, Conflict or TooOften.
    """
    sound, name = sound_in(form.file)
    heard = hear_fifth(
        sound,
        instrument_named(form.instrument),
        strings=pair_of(form.strings),
        a4=A4_HZ if form.a4 is None else check_a4(form.a4),
        fifth_cents=fifth_cents_of(_target(form.target)),
    )
    return FifthResult.of(heard, file=name)


class MicrophoneForm(BaseModel):
    """Some seconds of a microphone: the room as it will be, then one string, then another, from so many seconds on."""

    file: UploadFile
    instrument: str
    first_at: float
    second_at: float


@blueprint.post("/microphone")
@uploads
@at_most("recordings")
@blueprint.input(MicrophoneForm, location="form_and_files", arg_name="form")
@blueprint.output(ResultOf[MicrophoneCheck])
def check_of_microphone(form: MicrophoneForm) -> ResultOf[MicrophoneCheck]:
    """What a microphone will manage in this room.

    Raises BadInput, UnreadableSound, SoundTooLarge or TooOften.
    """
    sound, _ = sound_in(form.file)
    instrument = instrument_named(form.instrument)
    check = check_microphone(sound, instrument, first_at=form.first_at, second_at=form.second_at)
    return ResultOf[MicrophoneCheck](check)


class HarmonicForm(BaseModel):
    """A recording of one harmonic, and where it should sound, in Hz."""

    file: UploadFile
    near_hz: float


@blueprint.post("/harmonic")
@uploads
@at_most("recordings")
@blueprint.input(HarmonicForm, location="form_and_files", arg_name="form")
@blueprint.output(HarmonicOut)
def hear_harmonic(form: HarmonicForm) -> HarmonicOut:
    """One harmonic in a recording; refused with the reason where there is none near.

    Raises BadInput, UnreadableSound, SoundTooLarge, Conflict or TooOften.
    """
    sound, name = sound_in(form.file)
    heard = hear_tone(sound, near_hz=check_heard_hz(form.near_hz, field="near_hz"))
    if isinstance(heard, Refusal):
        raise BadInput("file", f"“{name}”: {HARMONIC_REFUSED_SAID[heard.reason]}.")
    return HarmonicOut(hz=round(heard.hz, 3))


def _target(text: str | None) -> Target:
    if text in (None, "", "tempered"):
        return "tempered"
    if text == "pure":
        return "pure"
    try:
        return FifthWidth.model_validate_json(text or "")
    except ValueError:
        raise BadInput(
            "target", f'“{text}” is not a target; give tempered, pure, or a width as in {{"fifth_cents": 701}}.'
        ) from None
