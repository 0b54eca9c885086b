"""Reference tones: what to sound, and as WAV."""

import io
from typing import Annotated

import soundfile
from apiflask import APIBlueprint
from flask import Response
from pydantic import BaseModel, Field

from pondus.contracts.tones import ToneOut
from pondus.core.errors import BadInput
from pondus.core.instruments import instrument_named
from pondus.core.instruments.targets import TEMPERED_FIFTH_CENTS, check_fifth_cents, target_hz
from pondus.core.pitch.notes import check_a4
from pondus.core.pitch.tones import LEVEL, partial_levels, tone
from pondus.web.described import file_of

blueprint = APIBlueprint("tones", __name__, tag="Reference tones")
LONGEST_SECONDS = 120.0


class ToneQuery(BaseModel):
    """Which string's tone, at which reference and width of fifths, in which octave."""

    instrument: str
    string: str
    a4: float = 440.0
    fifth_cents: float = TEMPERED_FIFTH_CENTS
    octaves_up: Annotated[
        int, Field(ge=-1, le=2, description="So many octaves higher (a low string is easier to hear so), or one lower.")
    ] = 0
    followed: Annotated[bool, Field(description="Of a few partials only, so that a microphone hears the string beside it.")] = (
        False
    )
    seconds: Annotated[float, Field(description="For the WAV: how long, up to 120.")] = 10.0

    def hz(self) -> float:
        """The string's target in Hz. Raises BadInput."""
        string = instrument_named(self.instrument).string(self.string)
        width = check_fifth_cents(self.fifth_cents, field="fifth_cents")
        return target_hz(string, a4=check_a4(self.a4), fifth_cents=width) * 2.0**self.octaves_up


@blueprint.get("/tone")
@blueprint.input(ToneQuery, location="query", arg_name="query")
@blueprint.output(ToneOut)
def describe_tone(query: ToneQuery) -> ToneOut:
    """What a string's reference tone is made of."""
    hz = query.hz()
    return ToneOut(hz=hz, partials=partial_levels(hz, followed=query.followed), level=LEVEL)


@blueprint.get("/tone.wav")
@blueprint.input(ToneQuery, location="query", arg_name="query")
@blueprint.doc(description="The tone as a WAV file.", responses=file_of("audio/wav", said="A WAV file."))
def tone_file(query: ToneQuery) -> Response:
    """A string's reference tone as WAV. Raises BadInput."""
    if not 0.1 <= query.seconds <= LONGEST_SECONDS:
        raise BadInput("seconds", f"{query.seconds:g} seconds is outside 0.1–{LONGEST_SECONDS:g}; 10 is plenty.")
    file = io.BytesIO()
    soundfile.write(file, tone(query.hz(), seconds=query.seconds), 44_100, format="WAV", subtype="PCM_16")
    name = f"{query.instrument}-{query.string}-{query.hz():.2f}Hz.wav"
    return Response(file.getvalue(), mimetype="audio/wav", headers={"Content-Disposition": f'attachment; filename="{name}"'})
