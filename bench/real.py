"""Hearing real strings: notes of players, in rooms and in short strokes, as recordings and live.

Each note (`soundfonts`) is resampled by factors known exactly onto open strings of its instrument, within 50 cents of
them; a section's onto any instrument's. ``apart``: how far the readings of one note's versions lie from each other once
the factors are taken off, in cents: no knowledge of the note's own pitch is needed. ``gross``: more than 60 cents from
the note (an estimator of its own, restricted to half an octave around the note, says where that is). ``kept``: whether
three of the stated spread hold the distance to that estimate (of a pluck: to the peak of its first partial). *Still* notes
sway by less than 12 cents from the 5th to the 95th percentile, as that estimator sees them, the rest *sway*.

Run: ``bin/pondus bench real [--versions 3] [--room "as played"]``.
"""

import argparse
from collections import Counter, defaultdict
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

import librosa
import numpy as np
from scipy.signal import butter, resample, sosfilt

from bench import patches, soundfonts, untouched
from bench.packed import BOWED_BASS, packed_notes
from bench.patches import patch_notes
from bench.soundfonts import Note, missing, notes
from bench.untouched import untouched_notes
from pondus.core.hearing.hear import Reading, Refusal, hear
from pondus.core.hearing.live import Listener
from pondus.core.hearing.look import Look, Settled
from pondus.core.hearing.sound import sound_from
from pondus.core.instruments import INSTRUMENTS
from pondus.core.instruments.targets import targets_hz
from pondus.core.pitch.notes import cents_between
from pondus.core.simulated.sound import Samples, Tone, bowed, mixed, plucked

GROSS_CENTS, STILL_CENTS = 60.0, 12.0
KINDS_OF = {BOWED_BASS: ["cello"]}
Room = Callable[[Samples, int, float, np.random.Generator], Samples]


@dataclass(frozen=True)
class Measured:
    """A note, where the estimator sees it (Hz) and how far it sways (cents)."""

    note: Note
    hz: float
    sway_cents: float


@dataclass(frozen=True)
class Case:
    """A note on an open string: ``hz`` is where the estimate lies after resampling."""

    of: Measured
    kind: str
    samples: Samples
    rate_hz: int
    hz: float


@dataclass
class Tally:
    """What came of the notes of one sort."""

    refused: Counter[str] = field(default_factory=Counter)
    apart: list[float] = field(default_factory=list)
    kept: list[bool] = field(default_factory=list)
    sure: int = 0
    gross: int = 0
    count: int = 0

    def line(self) -> str:
        apart = np.array(self.apart or [np.nan])
        why = ", ".join(f"{reason} {times}" for reason, times in self.refused.most_common())
        kept = 100.0 * float(np.mean(self.kept)) if self.kept else float("nan")
        return (
            f"{self.count:5d} {sum(self.refused.values()):7d} {np.median(apart):7.2f} {np.percentile(apart, 95):7.2f}"
            f" {self.gross:5d} {kept:6.0f} % {self.sure:5d}   {why}"
        )


def measured(note: Note) -> Measured:
    """Where a note lies, and how far it sways."""
    nominal = 440.0 * 2.0 ** ((note.key - 69) / 12.0)
    hz = librosa.yin(
        note.samples, fmin=nominal * 0.75, fmax=nominal * 1.34, sr=note.rate_hz,
        frame_length=4096 if nominal < 150.0 else 2048, hop_length=256,
    )  # fmt: skip
    level = librosa.feature.rms(y=note.samples, frame_length=2048, hop_length=256)[0][: len(hz)]
    cents = 1200.0 * np.log2(hz[level > 0.03 * level.max()] / nominal)
    middle = cents[len(cents) // 5 : -max(1, len(cents) // 10)]
    low, high = np.percentile(middle, (5, 95))
    return Measured(note, nominal * 2.0 ** (float(np.median(middle)) / 1200.0), float(high - low))


def cases(found: list[Measured], versions: int, rng: np.random.Generator) -> Iterator[Case]:
    """Each note on open strings, so many times."""
    for of in found:
        kinds = KINDS_OF.get(of.note.sort, [of.note.sort] if of.note.sort in INSTRUMENTS else list(INSTRUMENTS))
        near = sorted(
            (abs(cents_between(hz, of.hz)), kind, hz) for kind in kinds for hz in targets_hz(INSTRUMENTS[kind]).values()
        )[:3]
        for _ in range(versions):
            _, kind, target = near[rng.integers(0, len(near))]
            rate = int(rng.choice([44_100, 48_000]))
            sound = put_on(of, target * 2.0 ** (rng.uniform(-50.0, 50.0) / 1200.0), rate)
            true = of.hz * (rate / of.note.rate_hz) * len(of.note.samples) / len(sound)
            yield Case(of, kind, sound, rate, true)


def put_on(of: Measured, hz: float, rate_hz: int) -> Samples:
    """The note at another pitch and rate, its loudest at half of full scale."""
    length = max(1000, round(len(of.note.samples) * rate_hz / of.note.rate_hz * of.hz / hz))
    sound = resample(of.note.samples, length)
    return np.asarray(0.5 * sound / np.abs(sound).max())


def _room(db: float) -> Room:
    def make(sound: Samples, rate: int, hz: float, rng: np.random.Generator) -> Samples:
        white = rng.normal(0.0, 1.0, len(sound))
        rumble = np.cumsum(white)
        rumble -= np.convolve(rumble, np.ones(2000) / 2000.0, "same")
        return mixed(sound, white + 0.02 * rumble, below_db=db)

    return make


def _another(sound: Samples, rate: int, hz: float, rng: np.random.Generator) -> Samples:
    other = bowed(Tone(hz * 2.0 ** (rng.uniform(-1200, 1200) / 1200.0), len(sound) / rate + 0.2, rate), rng)
    return mixed(sound, other, below_db=15.0)


def _class(sound: Samples, rate: int, hz: float, rng: np.random.Generator) -> Samples:
    """Others tune beside it, an octave, a twelfth or two octaves below: a cello's A beside a violin's."""
    below = float(rng.choice([1200.0, 1902.0, 2400.0])) + rng.uniform(-6.0, 6.0)
    make = bowed if rng.random() < 0.7 else plucked
    return mixed(sound, make(Tone(hz * 2.0 ** (-below / 1200.0), len(sound) / rate + 0.2, rate), rng), below_db=15.0)


def _student(sound: Samples, rate: int, hz: float, rng: np.random.Generator) -> Samples:
    """A short stroke that begins with a scratch, swells and fades, with the bow's noise in it."""
    part = sound[: int(rng.uniform(0.7, 1.2) * rate)].copy()
    seconds = np.arange(len(part)) / rate
    part *= 10.0 ** (4.0 * np.sin(2.0 * np.pi * (rng.uniform(2.0, 5.0) * seconds + rng.uniform())) / 20.0)
    noise = np.diff(rng.normal(0.0, 1.0, len(part) + 1))
    loud = np.sqrt(np.mean(np.square(part)) / np.mean(np.square(noise)))
    scratch = noise * loud * (0.06 + 0.8 * np.exp(-seconds / 0.04))
    quiet = np.zeros(rate // 5)
    return np.concatenate([quiet, part + scratch, quiet])


def _neighbour(sound: Samples, rate: int, hz: float, rng: np.random.Generator) -> Samples:
    """The open string beside it was touched too and rings on, a fifth up or down."""
    beside = hz * float(rng.choice([2.0 / 3.0, 1.5])) * 2.0 ** (rng.uniform(-20.0, 20.0) / 1200.0)
    other = plucked(Tone(beside, len(sound) / rate + 0.2, rate), rng)
    return mixed(sound, other, below_db=15.0)


def _stroke(sound: Samples, rate: int, hz: float, rng: np.random.Generator) -> Samples:
    quiet = np.zeros(rate // 5)
    return np.concatenate([quiet, sound[: int(rng.uniform(0.7, 1.2) * rate)], quiet])


def _small(sound: Samples, rate: int, hz: float, rng: np.random.Generator) -> Samples:
    """Through a small microphone: hardly anything under 200 to 260 Hz."""
    cut = butter(int(rng.choice([2, 3, 4])), rng.uniform(200.0, 260.0), "high", fs=rate, output="sos")
    return np.asarray(sosfilt(cut, sound))


ROOMS: dict[str, Room] = {
    "as played": lambda sound, rate, hz, rng: sound,
    "room, 20 dB": _room(20.0),
    "room, 10 dB": _room(10.0),
    "another at −15 dB": _another,
    "a class at −15 dB": _class,
    "short stroke": _stroke,
    "student's stroke": _student,
    "neighbour at −15 dB": _neighbour,
    "small microphone": _small,
}


SOURCES: dict[str, Callable[[], Iterator[Note]]] = {
    "soundfonts": notes,
    "patches": patch_notes,
    "packed": packed_notes,
    "untouched": untouched_notes,
}
PACKAGES = {"soundfonts": soundfonts.PACKAGES, "patches": patches.PACKAGES, "untouched": untouched.PACKAGES}
"""What Debian packages the sources need; those of the npm registry are fetched."""


def notes_of(source: str) -> list[Note]:
    """All notes of a source. Raises SystemExit that names its packages where they aren't there."""
    if absent := missing(PACKAGES.get(source, {})):
        raise SystemExit(f"These notes come from Debian's packages; install them first: apt-get install {' '.join(absent)}")
    return list(SOURCES[source]())


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--versions", type=int, default=3, help="open strings each note is put on")
    options.add_argument("--seed", type=int, default=1)
    options.add_argument("--room", choices=list(ROOMS), help="this one alone")
    options.add_argument(
        "--source", choices=list(SOURCES), default="soundfonts", help="which notes; packed: npm's; untouched: look last"
    )
    options.add_argument("--named", action="store_true", help="tell the hearing which string it is")
    given = options.parse_args()
    found = [measured(note) for note in notes_of(given.source)]
    print(f"{len(found)} notes, {sum(each.sway_cents < STILL_CENTS for each in found)} of them still")
    print(f"\n{'':19s}{'':24s}{'notes':>5s} {'refused':>7s} {'apart':>7s} {'95 %':>7s} {'gross':>5s} {'kept':>8s} {'sure':>5s}")
    for name, room in ROOMS.items():
        if given.room not in (None, name):
            continue
        rng = np.random.default_rng(given.seed)
        for sort, tally in sorted(tallied(list(cases(found, given.versions, rng)), room, rng, named=given.named).items()):
            print(f"{name:19s}{sort:24s}{tally.line()}")
    live(list(cases(found, 1, np.random.default_rng(given.seed))))
    mixtures(list(cases(found, 1, np.random.default_rng(given.seed))))


def tallied(all_cases: list[Case], room: Room, rng: np.random.Generator, *, named: bool = False) -> dict[str, Tally]:
    """Hear them all in a room, by sort; ``named``: the hearing is told which string it is."""
    heard: dict[str, list[tuple[Case, Reading | Refusal]]] = defaultdict(list)
    for case in all_cases:
        sound = room(case.samples, case.rate_hz, case.hz, rng)
        heard[case.of.note.name].append((case, _heard(case, sound, named=named)))
    tallies: dict[str, Tally] = defaultdict(Tally)
    for versions in heard.values():
        elsewhere = [_elsewhere(case) for case, _ in versions]
        off = [None if isinstance(by, Refusal) else cents_between(by.hz, case.hz) for case, by in versions]
        near = [each for each in off if each is not None and abs(each) <= GROSS_CENTS]
        middle = float(np.median(near)) if near else 0.0
        for (case, by), cents, other in zip(versions, off, elsewhere, strict=True):
            still = "still" if case.of.sway_cents < STILL_CENTS else "sways"
            tally = tallies[f"{case.of.note.sort}, {still}"]
            tally.count += 1
            if isinstance(by, Refusal):
                tally.refused[by.reason] += 1
            elif cents is None or abs(cents) > GROSS_CENTS:
                tally.gross += 1
            else:
                tally.apart.append(abs(cents - middle))
                tally.kept.append(abs(cents_between(by.hz, other)) <= 3.0 * max(by.spread_cents, 0.1))
                tally.sure += by.confidence > 0.7 and abs(cents) > 5.0
    return tallies


def _elsewhere(case: Case) -> float:
    """Where a note as it was played lies by another estimate, in Hz: of a pluck the peak of its first partial, louder moments
    counting more; of a bowed note the estimator's median.
    """
    if "plucked" not in case.of.note.sort:
        return case.hz
    part = case.samples[len(case.samples) // 8 :]
    size = 4 << int(np.ceil(np.log2(len(part))))
    spectrum = np.abs(np.fft.rfft(part * np.hanning(len(part)), size))
    step = case.rate_hz / size
    low, high = (round(case.hz * 2.0 ** (cents / 1200.0) / step) for cents in (-GROSS_CENTS, GROSS_CENTS))
    top = low + int(np.argmax(spectrum[low:high]))
    before, at, after = np.log(spectrum[top - 1 : top + 2])
    return float((top + 0.5 * (before - after) / (before - 2.0 * at + after)) * step)


def _heard(case: Case, sound: Samples, *, named: bool = False) -> Reading | Refusal:
    instrument = INSTRUMENTS[case.kind]
    targets = targets_hz(instrument)
    string = min(targets, key=lambda name: abs(cents_between(case.hz, targets[name]))) if named else None
    return hear(sound_from(sound.astype(np.float32), case.rate_hz), instrument, string=string)


def live(all_cases: list[Case]) -> None:
    """One sounding, and three in a row: how many readings, of notes that a recording's hearing takes and of those that
    it refuses.
    """
    print("\nLive: how many readings of one sounding, of three in a row, and how soon the first")
    once: dict[str, Counter[int]] = defaultdict(Counter)
    thrice: dict[str, Counter[int]] = defaultdict(Counter)
    reasons: dict[str, Counter[str]] = defaultdict(Counter)
    soon: list[float] = []
    rng = np.random.default_rng(3)
    for case in all_cases:
        taken = "taken" if isinstance(_heard(case, case.samples), Reading) else "refused"
        sort = f"{case.of.note.sort}, {taken}"
        settled, said = _live(case, [case.samples], rng)
        once[sort][len(settled)] += 1
        soon += settled[:1]
        if not settled:
            reasons[sort][next(iter(said), "nothing said")] += 1
        stroke = case.samples[: int(1.2 * case.rate_hz)]
        thrice[sort][len(_live(case, [stroke] * 3, rng)[0])] += 1
    for sort in sorted(once):
        counts = f"{dict(sorted(once[sort].items()))!s:28s} {dict(sorted(thrice[sort].items()))!s:32s}"
        print(f"  {sort:24s} {counts} {dict(reasons[sort])}")
    print(f"  first reading after {np.median(soon):.2f} s at the median, {np.percentile(soon, 95):.2f} s at 95 %")


def _live(case: Case, strokes: list[Samples], rng: np.random.Generator) -> tuple[list[float], list[str]]:
    def quiet(seconds: float) -> Samples:
        return rng.normal(0.0, 1e-4, int(seconds * case.rate_hz))

    parts = [quiet(0.4)]
    for stroke in strokes:
        parts += [stroke, quiet(0.12)]
    sound = np.concatenate([*parts, quiet(0.4)]).astype(np.float32)
    listener = Listener(INSTRUMENTS[case.kind], rate_hz=case.rate_hz)
    settled: list[float] = []
    reasons: list[str] = []
    for start in range(0, len(sound), 2400):
        for said in listener.feed(sound[start : start + 2400]):
            if isinstance(said, Settled):
                settled.append(start / case.rate_hz - 0.4)
            elif isinstance(said, Look) and said.reason is not None:
                reasons.append(said.reason)
    return settled, reasons


def mixtures(all_cases: list[Case]) -> None:
    """Pairs of real notes of one instrument, as loud as each other: how many are called usable."""
    rng = np.random.default_rng(9)
    usable = count = 0
    singles = [case for case in all_cases if case.of.note.sort in INSTRUMENTS]
    for _ in range(120):
        one = singles[rng.integers(0, len(singles))]
        others = [
            each for each in singles
            if each.kind == one.kind and each.rate_hz == one.rate_hz and 150.0 < abs(cents_between(each.hz, one.hz)) < 1150.0
        ]  # fmt: skip
        if others:
            other = others[rng.integers(0, len(others))]
            length = min(len(one.samples), len(other.samples))
            pair = mixed(one.samples[:length], other.samples[:length], below_db=0.0)
            count += 1
            usable += isinstance(_heard(one, pair), Reading)
    print(f"\nTwo real notes as loud as each other: {usable} of {count} called usable")


if __name__ == "__main__":
    main()
