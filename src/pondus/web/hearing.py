"""`POST /api/hear`: a recording to a reading."""

import json
from typing import BinaryIO, cast

from apiflask import APIBlueprint
from apiflask.fields import UploadFile
from flask import request
from pydantic import BaseModel

from pondus.contracts.advice import FifthWidth, Target, fifth_cents_of
from pondus.contracts.hearing import HearingResult
from pondus.core.errors import BadInput
from pondus.core.hearing.hear import hear
from pondus.core.instruments import instrument_named
from pondus.core.pitch import check_a4
from pondus.recordings import read_sound

blueprint = APIBlueprint("hearing", __name__, tag="Hearing")


class HearForm(BaseModel):
    """A recording and what is known of it: all but the file and the instrument may be left out."""

    file: UploadFile
    instrument: str
    string: str | None = None
    a4: float | None = None
    target: str | None = None


@blueprint.post("/hear")
@blueprint.doc(description="Multipart form: file, instrument, and if known string, a4, target.")
@blueprint.output(HearingResult)
def hear_recording() -> HearingResult:
    """One recording to a reading, or the reason why there is none."""
    upload = request.files.get("file")
    if upload is None:
        raise BadInput("file", "No recording came with this request; choose a WAV, FLAC or OGG file.")
    instrument = instrument_named(request.form.get("instrument", ""))
    name = upload.filename or "recording"
    heard = hear(
        read_sound(cast(BinaryIO, upload.stream), name=name),
        instrument,
        string=request.form.get("string") or None,
        a4=_a4(request.form.get("a4")),
        fifth_cents=fifth_cents_of(_target(request.form.get("target"))),
    )
    return HearingResult.of(heard, file=name)


def _a4(text: str | None) -> float:
    if not text:
        return 440.0
    try:
        return check_a4(float(text))
    except ValueError:
        raise BadInput("a4", f"“{text}” is not a frequency in Hz; 440 is the usual reference.") from None


def _target(text: str | None) -> Target:
    if text in (None, "", "tempered"):
        return "tempered"
    if text == "pure":
        return "pure"
    try:
        return FifthWidth.model_validate(json.loads(text or ""))
    except ValueError:
        raise BadInput(
            "target",
            f'“{text}” is not a target; give tempered, pure, or a width as in {{"fifth_cents": 701}}.',
        ) from None
