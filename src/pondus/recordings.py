"""Recordings from disk or upload to `core.hearing`'s sound, and a simulated instrument's sound to disk: WAV, FLAC, OGG
through libsndfile.
"""

from pathlib import Path
from typing import BinaryIO, cast, get_args

import numpy as np
import soundfile
from numpy.typing import NDArray

from pondus.core.errors import BadInput, SoundTooLarge, UnreadableSound
from pondus.core.hearing.sound import HIGHEST_RATE_HZ, LOWEST_RATE_HZ, Reducer, Sound, loudest_channel, sound_from
from pondus.core.simulated.voice import How, sounded
from pondus.core.simulated.weather import STARTS, begun, slipped
from pondus.core.simulated.wood import Wood, made

LARGEST_BYTES = 200 * 1024 * 1024
LONGEST_SECONDS = 600.0
MOST_CHANNELS = 2
LISTENED_SECONDS = 60.0
"""Of a longer recording only its loudest stretch of this length is heard: one string takes seconds, and memory is bounded."""
BLOCK_SECONDS = 4
STEP_SECONDS = 0.5


def read_sound(source: Path | BinaryIO, *, name: str) -> Sound:
    """Open and check one recording; ``name`` is what a person knows it by. Of more than a minute, the loudest minute.

    What its header tells is looked at before anything is decoded; then it is decoded block by block.

    Raises SoundTooLarge past 200 MB or ten minutes, UnreadableSound for more than two channels, a rate outside 8 to 192 kHz, or
    anything libsndfile can't decode.
    """
    if isinstance(source, Path):
        _check_file(source, name)
    try:
        with soundfile.SoundFile(source) as opened:
            _check_header(opened, name)
            if opened.frames <= LISTENED_SECONDS * min(opened.samplerate, 48_000):
                samples = opened.read(dtype="float32", always_2d=True)
                return sound_from(np.asarray(samples), int(opened.samplerate))
            return _loudest(*_reduced(opened))
    except (soundfile.SoundFileError, RuntimeError, TypeError, ValueError) as error:
        raise UnreadableSound(f"“{name}” can't be read as a recording; save it as WAV, FLAC or OGG and try again.") from error


def _check_header(opened: soundfile.SoundFile, name: str) -> None:
    """Length, channels and rate, as the header has them. Raises SoundTooLarge, UnreadableSound."""
    rate, channels = int(opened.samplerate), int(opened.channels)
    if channels > MOST_CHANNELS:
        raise UnreadableSound(f"“{name}” has {channels} channels; save it as mono or stereo and try again.")
    if not LOWEST_RATE_HZ <= rate <= HIGHEST_RATE_HZ:
        raise UnreadableSound(
            f"“{name}” has {rate} samples per second, outside {LOWEST_RATE_HZ}–{HIGHEST_RATE_HZ}; save it at 44100 or 48000."
        )
    if opened.frames / rate > LONGEST_SECONDS:
        raise SoundTooLarge(
            f"“{name}” lasts {opened.frames / rate / 60:.0f} minutes; one string takes seconds. Cut it under 10 minutes."
        )


def _reduced(opened: soundfile.SoundFile) -> tuple[NDArray[np.float32], float]:
    """The channel with most sound in it, at the working rate, and that rate in Hz; shape (n,)."""
    reducers = [Reducer(int(opened.samplerate)) for _ in range(int(opened.channels))]
    factor = reducers[0].factor
    pieces = []
    size = BLOCK_SECONDS * int(opened.samplerate) // factor * factor
    for block in opened.blocks(blocksize=size, dtype="float32", always_2d=True):
        whole = block[: len(block) // factor * factor]
        pieces.append(np.stack([by.reduce(whole[:, place]) for place, by in enumerate(reducers)], axis=1))
    reduced = np.concatenate(pieces)
    return np.ascontiguousarray(reduced[:, loudest_channel(reduced)]), reducers[0].rate_hz


def _loudest(samples: NDArray[np.float32], rate_hz: float) -> Sound:
    """The loudest minute. Raises UnreadableSound for samples that aren't numbers."""
    length, step = round(LISTENED_SECONDS * rate_hz), max(1, round(STEP_SECONDS * rate_hz))
    if not np.isfinite(samples.sum()):
        raise UnreadableSound("The recording holds samples that aren't numbers; record or convert it again.")
    if len(samples) <= length:
        return Sound(samples, rate_hz)
    power = np.add.reduceat(np.square(samples), np.arange(0, len(samples), step), dtype=np.float64)
    total = np.concatenate([[0.0], np.cumsum(power)])
    steps = length // step
    begins = int(np.argmax(total[steps:] - total[:-steps])) * step
    return Sound(samples[begins : begins + length], rate_hz)


def write_simulated(
    file: Path,
    *,
    kind: str,
    names: tuple[str, ...],
    how: str,
    cents: str | None,
    start: str,
    size: str | None,
    seed: int,
    seconds: float,
    rate_hz: int,
    noise_db: float,
    hum_db: float,
) -> None:
    """Write a simulated instrument's sound. Raises BadInput, and UnreadableSound for a file that can't be written."""
    if how not in get_args(How):
        raise BadInput("how", f"“{how}” isn't a way to sound a string; choose bow or pluck.")
    wood = _begun(kind, seed, size, start)
    for name, off in zip(names, _cents(cents, names), strict=False):
        wood.string(name)
        wood = slipped(wood, name, off)
    sound = sounded(wood, names, how=cast(How, how), seconds=seconds, rate_hz=rate_hz, noise_db=noise_db, hum_db=hum_db)
    try:
        soundfile.write(file, np.clip(sound, -1.0, 1.0), rate_hz)
    except (soundfile.SoundFileError, OSError, TypeError, ValueError) as error:
        raise UnreadableSound(
            f"“{file}” can't be written; name a file that ends in .wav, .flac or .ogg, in a folder there is."
        ) from error


def _begun(kind: str, seed: int, size: str | None, start: str) -> Wood:
    if seed < 0:
        raise BadInput("seed", f"A seed of {seed} can't be used; give 0 or more.")
    wood = made(kind, seed=seed, size=size)
    if start == "in-tune":
        return wood
    if start not in STARTS:
        raise BadInput("start", f"“{start}” isn’t a state to begin in; choose in-tune, {', '.join(STARTS)}.")
    return begun(wood, start)


def _cents(text: str | None, names: tuple[str, ...]) -> list[float]:
    """How far each string is off, as typed; nothing typed: none is moved."""
    if text is None:
        return []
    try:
        offs = [float(part.replace("−", "-")) for part in text.split(",")]
    except ValueError:
        raise BadInput("cents", f"“{text}” isn't cents; give a figure for each string, as in -12,3.") from None
    if len(offs) != len(names) or not all(-2400.0 <= off <= 600.0 for off in offs):
        raise BadInput("cents", f"“{text}” doesn't fit {', '.join(names)}; give −2400 to 600 for each string.")
    return offs


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
