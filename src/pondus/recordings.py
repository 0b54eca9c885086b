"""Recordings from disk or upload to `core.hearing`'s sound: WAV, FLAC, OGG through libsndfile."""

from pathlib import Path
from typing import BinaryIO

import numpy as np
import soundfile

from pondus.core.errors import SoundTooLarge, UnreadableSound
from pondus.core.hearing.sound import Sound, sound_from

LARGEST_BYTES = 200 * 1024 * 1024
LONGEST_SECONDS = 600.0


def read_sound(source: Path | BinaryIO, *, name: str) -> Sound:
    """Open and check one recording; ``name`` is what a person knows it by.

    Raises SoundTooLarge past 200 MB or ten minutes, UnreadableSound for anything libsndfile can't decode.
    """
    if isinstance(source, Path):
        _check_file(source, name)
    try:
        with soundfile.SoundFile(source) as opened:
            if opened.frames / max(1, opened.samplerate) > LONGEST_SECONDS:
                raise SoundTooLarge(
                    f"“{name}” lasts {opened.frames / opened.samplerate / 60:.0f} minutes; one string takes seconds. Cut it"
                    " under 10 minutes."
                )
            samples = opened.read(dtype="float32", always_2d=True)
            rate = int(opened.samplerate)
    except (soundfile.SoundFileError, RuntimeError, TypeError, ValueError) as error:
        raise UnreadableSound(
            f"“{name}” can't be read as a recording; save it as WAV, FLAC or OGG and try again."
        ) from error
    return sound_from(np.asarray(samples), rate)


def _check_file(path: Path, name: str) -> None:
    if not path.exists():
        raise UnreadableSound(f"There is no file “{name}”; check its name and folder.")
    if not path.is_file():
        raise UnreadableSound(f"“{name}” is a folder, not a recording.")
    try:
        size = path.stat().st_size
        with path.open("rb"):
            pass
    except OSError as error:
        raise UnreadableSound(f"“{name}” can't be opened ({error.strerror}); check who may read it.") from error
    if size > LARGEST_BYTES:
        raise SoundTooLarge(
            f"“{name}” has {size / 1e6:.0f} MB; Pondus reads recordings up to {LARGEST_BYTES // 1024**2} MB. Cut it to the"
            " string you want heard."
        )
    if size == 0:
        raise UnreadableSound(f"“{name}” is empty; record it again.")
