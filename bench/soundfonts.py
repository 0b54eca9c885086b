"""Notes of real string players: the raw samples of soundfonts that Debian packages (all of free licences).

Beside them single plucks of other instruments (guitars, basses, harp, banjo), on which nothing was ever set: there
are no single plucked violins among them. None is shipped; ``bin/pondus bench real`` says which packages to install. A
SoundFont 2 file is a RIFF file: 16-bit samples in the list ``sdta``, a header of 46 bytes for each in ``pdta``
(SoundFont Technical Specification 2.04, 7.10). What the note is comes from the sample's name or key; its exact pitch
is nobody's word: `real_strings` only uses differences.
"""

import re
import struct
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import librosa
import numpy as np

from pondus.core.simulated.sound import Samples

FOLDER = Path("/usr/share/sounds/sf2")
PACKAGES = {
    "fluid-soundfont-gm": FOLDER / "FluidR3_GM.sf2",
    "musescore-general-soundfont-lossless": FOLDER / "MuseScore_General_Full.sf2",
}
LONGEST_SECONDS = 3.0
SEMITONES = {"C": 0, "C#": 1, "D": 2, "D#": 3, "E": 4, "F": 5, "F#": 6, "G": 7, "G#": 8, "A": 9, "A#": 10, "B": 11}
_FLUID = re.compile(r"(Violin|Viola|Cello|Pizz|Strings) ([A-G]#?)(\d) ?\(?L\)?$")
_FLUID_OCTAVES = {"Violin": 0, "Viola": 2, "Cello": 0, "Pizz": 0, "Strings": 0}
"""How the names count octaves, against a key of 12 times the octave."""
_GENERAL = re.compile(r"(Cello-|CellPzz|ViolPzz|VlnsPzz|Celli|Violas|Violins)")
_PLUCKED = re.compile(
    r"(Nylon|Steel [A-G]#?\d$|Jazz Guitar|Banjo|Finger Bass|Picked Bass|Slap Bass|Acoustic Bass|Harp [A-G].*L)"
)
_NAMED = re.compile(r"(Nylon|Steel|Jazz Guitar|Harp) ([A-G]#?)([0-5])")
_NAMED_OCTAVES = {"Nylon": 0, "Steel": 0, "Jazz Guitar": 0, "Harp": 1}
"""As ``_FLUID_OCTAVES``: guitars are named as they are written, an octave higher than they sound (not their B6 and E6)."""
OTHER_PLUCKED = "other plucked string"
_SORTS = {
    "Violin": "violin", "Viola": "viola", "Cello": "cello", "Pizz": "plucked section", "Strings": "section",
    "Cello-": "cello", "CellPzz": "plucked section", "ViolPzz": "plucked section", "VlnsPzz": "plucked section",
    "Celli": "section", "Violas": "section", "Violins": "section",
}  # fmt: skip


@dataclass(frozen=True)
class Note:
    """One note as it was played. ``sort``: a single violin, viola or cello, a section, a plucked section; ``key`` the
    nearest MIDI key, for its octave.
    """

    name: str
    sort: str
    key: int
    samples: Samples
    rate_hz: int


def missing(packages: dict[str, Path]) -> list[str]:
    """Which of these packages aren't there, by a file of each."""
    return [package for package, path in packages.items() if not path.exists()]


def notes() -> Iterator[Note]:
    """All notes of strings in the soundfonts that are there, one channel of each."""
    for path in PACKAGES.values():
        if path.exists():
            yield from _notes_of(path)


def raw_samples(path: Path) -> Iterator[tuple[str, Samples, int, int, int]]:
    """Each sample's name, values, rate, key and kind (1: mono, 2: the right of a pair)."""
    content = path.read_bytes()
    lists = dict(_lists(content))
    at, size = lists[b"smpl"]
    samples = np.frombuffer(content[at : at + size // 2 * 2], "<i2")
    at, size = lists[b"shdr"]
    for place in range(at, at + size - 46, 46):
        raw, start, end, _, _, rate, key, _, _, kind = struct.unpack("<20sIIIIIBbHH", content[place : place + 46])
        whole = samples[start : min(end, start + int(LONGEST_SECONDS * rate))].astype(np.float64) / 32768.0
        yield raw.split(b"\0")[0].decode("latin1"), whole, rate, key, kind


def _notes_of(path: Path) -> Iterator[Note]:
    for name, whole, rate, key, kind in raw_samples(path):
        fluid, general = _FLUID.match(name), _GENERAL.match(name)
        if path.name.startswith("Fluid"):
            if _PLUCKED.match(name):
                of = _NAMED.match(name)
                named = None if of is None else 12 * (int(of[3]) + _NAMED_OCTAVES[of[1]]) + SEMITONES[of[2]]
                yield Note(name, OTHER_PLUCKED, key_heard(whole, rate) if named is None else named, whole, rate)
            if fluid is not None:
                octave = int(fluid[3]) + _FLUID_OCTAVES[fluid[1]]
                yield Note(name, _SORTS[fluid[1]], 12 * octave + SEMITONES[fluid[2]], whole, rate)
        elif general is not None and kind != 2 and not name.endswith("R"):  # not the right channel of a pair
            yield Note(name, _SORTS[general[1]], key, whole, rate)


def key_heard(samples: Samples, rate_hz: int) -> int:
    """The nearest key by an estimator of its own (basses' and banjos' names don't tell octaves)."""
    hz = librosa.yin(samples, fmin=30.0, fmax=3500.0, sr=rate_hz, frame_length=4096, hop_length=512)
    level = librosa.feature.rms(y=samples, frame_length=4096, hop_length=512)[0][: len(hz)]
    return round(69.0 + 12.0 * float(np.log2(np.median(hz[level > 0.1 * level.max()]) / 440.0)))


def _lists(content: bytes) -> Iterator[tuple[bytes, tuple[int, int]]]:
    """Where each chunk of the lists lies."""
    for kind, at, size in _chunks(content, 12, len(content)):
        if kind == b"LIST":
            yield from ((inner, (place, length)) for inner, place, length in _chunks(content, at + 4, at + size))


def _chunks(content: bytes, at: int, end: int) -> Iterator[tuple[bytes, int, int]]:
    while at + 8 <= end:
        size = struct.unpack("<I", content[at + 4 : at + 8])[0]
        yield content[at : at + 4], at + 8, size
        at += 8 + size + (size & 1)
