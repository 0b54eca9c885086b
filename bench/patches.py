"""Notes of a third package of free samples, on which nothing was ever set: Gravis patches of violins, cellos, guitars, a harp.

A patch is a header of 239 bytes and then, for each sample, 96 bytes and its values (Gravis UltraSound developer kit 2.22,
"patch file format"): length in bytes at 8, rate at 20, the note's pitch in thousandths of a hertz at 30, modes at 55 (bit 0: 16
bits, bit 1: unsigned).
"""

import struct
from collections.abc import Iterator
from pathlib import Path

import numpy as np

from bench.soundfonts import LONGEST_SECONDS, OTHER_PLUCKED, Note

FREEPATS = Path("/usr/share/midi/freepats/Tone_000")
PACKAGES = {"freepats": FREEPATS}
HEADER, OF_SAMPLE, SAMPLES_AT = 239, 96, 198
_SORTS = {
    "040_Violin": "violin", "042_Cello": "cello", "045_Pizzicato_Strings": "plucked section",
    "048_String_Ensemble_1_Marcato": "section", "024_Nylon_Guitar": OTHER_PLUCKED, "025_Steel_Guitar": OTHER_PLUCKED,
    "026_Jazz_Guitar": OTHER_PLUCKED, "046_Harp": OTHER_PLUCKED,
}  # fmt: skip


def patch_notes() -> Iterator[Note]:
    """All notes of strings in the patches that are there."""
    for name, sort in _SORTS.items():
        path = FREEPATS / f"{name}.pat"
        if path.exists():
            yield from _notes_of(path, sort)


def _notes_of(path: Path, sort: str) -> Iterator[Note]:
    content = path.read_bytes()
    at = HEADER
    for number in range(content[SAMPLES_AT]):
        (length,) = struct.unpack("<I", content[at + 8 : at + 12])
        (rate,) = struct.unpack("<H", content[at + 20 : at + 22])
        (root,) = struct.unpack("<I", content[at + 30 : at + 34])
        modes = content[at + 55]
        values = content[at + OF_SAMPLE : at + OF_SAMPLE + length]
        at += OF_SAMPLE + length
        if not modes & 1 or modes & 2:
            continue
        whole = np.frombuffer(values, "<i2")[: int(LONGEST_SECONDS * rate)].astype(np.float64) / 32768.0
        if len(whole) > rate // 2:
            key = round(69.0 + 12.0 * float(np.log2(root / 440_000.0)))
            yield Note(f"{path.stem} {number}", sort, key, whole, rate)
