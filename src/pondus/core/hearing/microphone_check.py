"""What a microphone will manage in this room: ten seconds of the room as it will be, one string, then another.

The bounds come from real notes among other players (docs/HEARING.md): 25 dB over them 2 of 100 soundings give no reading,
at 15 dB one in five, at 10 dB one in three.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from pondus.core.errors import BadInput
from pondus.core.figures import Cents
from pondus.core.hearing.hear import Reading, Refusal, hear
from pondus.core.hearing.said import PLAY_AGAIN_SAID
from pondus.core.hearing.sound import Samples, Sound
from pondus.core.hearing.stream import LOOK_EVERY_SECONDS, QUIET_BELOW_DB, is_clipping, level_db
from pondus.core.instruments import Instrument
from pondus.core.pitch.notes import A4_HZ

Floats = NDArray[np.floating]
Verdict = Literal["good", "close", "poor", "silent"]

CHANGES_SECONDS = 0.4
"""So long people take to follow what they are told next."""
GOOD_DB, CLOSE_DB = 25.0, 15.0
SILENT_DB = -90.0
"""No microphone is so still that works."""
LASTS_LOOKS = 4


@dataclass(frozen=True)
class MicrophoneCheck:
    """What it will manage, and what was heard: a sentence for each, the most important one first. ``over_room_db``: how much
    the softer of the strings stood out, None where one wasn't heard.
    """

    verdict: Verdict
    over_room_db: Cents | None
    said: tuple[str, ...]


def check_microphone(
    sound: Sound, instrument: Instrument, *, first_at: float, second_at: float, a4: float = A4_HZ
) -> MicrophoneCheck:
    """Judge some seconds of a room, in which its player was told to play one string from ``first_at`` seconds on, and another
    from ``second_at`` on. Raises BadInput where those don't leave two seconds for each.
    """
    if not 2.0 <= first_at <= second_at - 2.0 <= sound.seconds - 4.0:
        raise BadInput(
            "second_at",
            f"Two seconds of the room and of each string are needed; {first_at:g} and {second_at:g} of"
            f" {sound.seconds:.1f} s leave less.",
        )
    levels = _levels_db(sound)
    if len(levels) == 0 or levels.max() < SILENT_DB:
        return MicrophoneCheck("silent", None, ("Nothing at all comes from this microphone: choose another, or unmute it.",))
    room_db = float(np.percentile(_levels_db(_between(sound, 0.0, first_at)), 90))
    over, said = [], []
    for begins, ends, which in ((first_at, second_at, "the first"), (second_at, sound.seconds, "the second")):
        part = _between(sound, begins + CHANGES_SECONDS, ends + CHANGES_SECONDS)
        heard = hear(part, instrument, a4=a4)
        stands = _lasting_db(_levels_db(part)) - max(room_db, QUIET_BELOW_DB)
        over.append(stands if isinstance(heard, Reading) else None)
        said.append(_said(heard, stands, which))
    if _is_clipping(sound):
        said.append("It was too loud for this microphone in places: hold it a little further away.")
    stood_out = [decibels for decibels in over if decibels is not None]
    least = min(stood_out) if len(stood_out) == len(over) else None
    verdict: Verdict = "poor" if least is None or least < CLOSE_DB else "good" if least >= GOOD_DB else "close"
    return MicrophoneCheck(verdict, least, (VERDICT_SAID[verdict], *said))


VERDICT_SAID: dict[Verdict, str] = {
    "good": "Good: at this distance strings are heard in this room.",
    "close": "It will do if you hold it close: a hand's breadth from the bridge, nearer than the others play.",
    "poor": "Strings hardly stand out in this room: clip it to the bridge, go next door, or type what a tuner shows.",
    "silent": "Nothing comes from this microphone.",
}


def _said(heard: Reading | Refusal, stands_db: float, which: str) -> str:
    if isinstance(heard, Reading):
        return f"Heard as {which}: the {heard.string} string, {max(0, round(stands_db))} dB over the room."
    return f"Nothing was read of {which} string. {PLAY_AGAIN_SAID[heard.reason]}"


def _between(sound: Sound, begins: float, ends: float) -> Sound:
    return Sound(sound.samples[int(begins * sound.rate_hz) : int(ends * sound.rate_hz)], sound.rate_hz)


def _looks(sound: Sound) -> list[Samples]:
    step = max(1, int(LOOK_EVERY_SECONDS * sound.rate_hz))
    return [sound.samples[start : start + step] for start in range(0, len(sound.samples) - step + 1, step)]


def _levels_db(sound: Sound) -> Floats:
    """Of each look of 50 ms, in dB re full scale."""
    return np.asarray([level_db(np.asarray(look, dtype=np.float32)) for look in _looks(sound)])


def _lasting_db(levels: Floats) -> float:
    """The level that the loudest looks reach together: a knock is shorter."""
    return float(np.sort(levels)[-LASTS_LOOKS]) if len(levels) >= LASTS_LOOKS else SILENT_DB


def _is_clipping(sound: Sound) -> bool:
    return sum(is_clipping(np.asarray(look, dtype=np.float32)) for look in _looks(sound)) > 1
