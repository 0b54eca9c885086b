"""Notes of real string players: the raw samples of soundfonts that Debian packages (all of free licences).

None is shipped; ``bin/pondus bench real`` says which packages to install. A SoundFont 2 file is a RIFF file: 16-bit
samples in the list ``sdta``, a header of 46 bytes for each in ``pdta`` (SoundFont Technical Specification 2.04, 7.10).
What the note is comes from the sample's name or key; its exact pitch is nobody's word: `real_strings` only uses differences.
"""

import re
import struct
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from pondus.core.simulated.sound import Samples

FOLDER = Path("/usr/share/sounds/sf2")
PACKAGES = {
    "FluidR3_GM.sf2": "fluid-soundfont-gm",
    "MuseScore_General_Full.sf2": "musescore-general-soundfont-lossless",
}
LONGEST_SECONDS = 3.0
_SEMITONES = {"C": 0, "C#": 1, "D": 2, "D#": 3, "E": 4, "F": 5, "F#": 6, "G": 7, "G#": 8, "A": 9, "A#": 10, "B": 11}
_FLUID = re.compile(r"(Violin|Viola|Cello|Pizz|Strings) ([A-G]#?)(\d) ?\(?L\)?$")
_FLUID_OCTAVES = {"Violin": 0, "Viola": 2, "Cello": 0, "Pizz": 0, "Strings": 0}
"""How the names count octaves, against a key of 12 times the octave."""
_GENERAL = re.compile(r"(Cello-|CellPzz|ViolPzz|VlnsPzz|Celli|Violas|Violins)")
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


def missing() -> list[str]:
    """The packages that aren't there."""
    return [package for file, package in PACKAGES.items() if not (FOLDER / file).exists()]


def notes() -> Iterator[Note]:
    """All notes of strings in the soundfonts that are there, one channel of each."""
    for file in PACKAGES:
        if (FOLDER / file).exists():
            yield from _notes_of(FOLDER / file)


def _notes_of(path: Path) -> Iterator[Note]:
    content = path.read_bytes()
    lists = dict(_lists(content))
    at, size = lists[b"smpl"]
    samples = np.frombuffer(content[at : at + size // 2 * 2], "<i2")
    at, size = lists[b"shdr"]
    for place in range(at, at + size - 46, 46):
        raw, start, end, _, _, rate, key, _, _, kind = struct.unpack("<20sIIIIIBbHH", content[place : place + 46])
        name = raw.split(b"\0")[0].decode("latin1")
        fluid, general = _FLUID.match(name), _GENERAL.match(name)
        if path.name.startswith("Fluid"):
            if fluid is None:
                continue
            sort = fluid[1]
            key = 12 * (int(fluid[3]) + _FLUID_OCTAVES[sort]) + _SEMITONES[fluid[2]]
        elif general is None or kind == 2 or name.endswith("R"):  # the right channel of a pair
            continue
        else:
            sort = general[1]
        whole = samples[start : min(end, start + int(LONGEST_SECONDS * rate))].astype(np.float64) / 32768.0
        yield Note(name, _SORTS[sort], key, whole, rate)


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
