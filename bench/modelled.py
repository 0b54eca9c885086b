"""Hearing strings that are physically modelled: stick and slip by finite differences (`stick_slip`), and the waveguides of
csound, a package of Debian's. Through bodies and rooms, small microphones, beside a class and talk, slack, in short strokes.

Nothing is shared with the sounds the hearing was made with, and the truth comes from the string itself: its own motion, or
the dry waveguide's first partial. Told are refusals, readings more than 50 cents off (*gross*), those of them surer than 0.3,
how many were taken for another string, the error of the others, and how many lie beyond three of their spreads.

Run: ``bin/pondus bench modelled [--seeds 1 5] [--only "class"]``. Which seeds something was set on is said in docs/HEARING.md.
"""

import argparse
import io
import subprocess
import tempfile
from collections import Counter
from collections.abc import Callable, Iterator
from copy import deepcopy
from dataclasses import dataclass, field
from itertools import product
from pathlib import Path
from shutil import which

import numpy as np
import soundfile
from scipy.signal import butter, fftconvolve, iirpeak, lfilter, resample_poly, sosfilt

from bench import stick_slip
from bench.among_others import COLUMNS, Sounding, counted
from bench.among_others import heard as heard_live
from bench.stick_slip import RATE, first_partial, locked, swings
from pondus.core.hearing.hear import Reading, hear
from pondus.core.hearing.sound import sound_from
from pondus.core.instruments import INSTRUMENTS, KINDS, Instrument
from pondus.core.instruments.targets import targets_hz
from pondus.core.pitch.notes import cents_between, shift_hz
from pondus.core.simulated.sound import Samples, mixed, talk

SECONDS, SHORT_SECONDS, CHANGE_SECONDS = 2.0, 0.45, 0.6
GROSS_CENTS, SURE, OF_A_PLAYER_CENTS = 50.0, 0.3, 3.0
TUNED_WITHIN, SLACK = (-60.0, 60.0), (-650.0, -300.0)
DRAWS = 12
CALL_RATE = 16_000
STEADY = slice(int(0.12 * RATE), -int(0.08 * RATE))
MORNINGS = 3
LIVE = (("nobody", 0, 0.0), ("another, -15 dB", 1, 15.0), ("a class, -15 dB", 4, 15.0), ("a class, -12 dB", 4, 12.0))
WAVEGUIDES = {
    "waveguide bow": "kamp linseg 0, 0.06, 0.4, p3 - 0.16, 0.4, 0.1, 0\na1 wgbow kamp, p4, p5 * 3 + 1.5, 0.08 + p6 * 0.1, 0, 0",
    "waveguide pluck": "a1 wgpluck2 0.1 + 0.3 * p5, 0.5, p4, 0.1 + 0.3 * p6, 0.25 + 0.5 * p5",
    "averaged noise": "a1 pluck 0.5, p4, p4, 0, 1",
}
"""As instruments of csound: p4 the frequency in Hz, p5 and p6 by chance from 0 to 1."""


@dataclass(frozen=True)
class Sounded:
    """A string alone and dry: ``hz`` where it truly is."""

    model: str
    instrument: Instrument
    string: str
    samples: Samples
    hz: float


@dataclass
class Tally:
    """What came of them."""

    count: int = 0
    refused: int = 0
    gross: int = 0
    sure: int = 0
    other: int = 0
    off: list[float] = field(default_factory=list)
    beyond: int = 0

    def line(self) -> str:
        off = np.array(self.off or [np.nan])
        return (
            f"{self.count:5d} {self.refused:7d} {self.gross:5d} {self.sure:5d} {self.other:6d}"
            f" {np.median(off):8.2f} {np.percentile(off, 95):6.2f} {self.beyond:6d}"
        )


def waveguide(model: str, hz: float, seconds: float, rng: np.random.Generator) -> Samples:
    """One note of csound's."""
    with tempfile.TemporaryDirectory() as folder:
        out, played, score = (Path(folder) / name for name in ("out.wav", "one.orc", "one.sco"))
        head = f"sr = {RATE}\nksmps = 1\nnchnls = 1\n0dbfs = 1\ninstr 1\n"
        played.write_text(f"{head}{WAVEGUIDES[model]}\nout a1\nendin\n")
        score.write_text(f"i 1 0 {seconds} {hz:.6f} {rng.uniform():.4f} {rng.uniform():.4f}\ne\n")
        command = ["csound", "-d", "-m0", "-f", "-W", "-o", str(out), str(played), str(score)]
        subprocess.run(command, check=True, capture_output=True)
        return np.asarray(soundfile.read(out)[0])


MODELS = ("stick and slip", "plucked by differences", *WAVEGUIDES)
BOWED = ("stick and slip", "waveguide bow")


def sounded(
    model: str, hz: float, seconds: float, rng: np.random.Generator, *, change_seconds: float = 0.0
) -> tuple[Samples, float] | None:
    """A note near ``hz`` and where its string truly lies; None where it is no note: the bow squeaked or scratched, so often.

    Of a short stroke, and of a bow that changes, that is where the same string lies under the same bow in one long stroke: as
    it begins and turns its pitch strays by cents, and a spectrum of so little, or over a turn, is no truth.
    """
    for _ in range(DRAWS):
        same = deepcopy(rng)
        made = _once(model, hz, seconds, rng, change_seconds)
        if made is not None and (seconds < SECONDS or change_seconds):
            long = _once(model, hz, SECONDS, same, 0.0)
            made = None if long is None else (made[0], long[1])
        if made is not None:
            return made
    return None


def _once(
    model: str, hz: float, seconds: float, rng: np.random.Generator, change_seconds: float
) -> tuple[Samples, float] | None:
    if model == "plucked by differences":
        made = stick_slip.plucked(hz, seconds, rng)
        return made.bridge, first_partial(made.string, hz)
    if model == "stick and slip":
        bow = stick_slip.bowed(hz, seconds, rng, change_seconds=change_seconds)
        return None if bow is None else (bow.bridge, locked(bow.string[STEADY], hz))
    samples = waveguide(model, hz, seconds, rng)
    samples = samples / (np.abs(samples).max() + 1e-30)
    if model not in BOWED:
        return samples, first_partial(samples[STEADY], hz)
    return (samples, locked(samples[STEADY], hz)) if swings(samples, samples, hz) else None


def harmonics(seeds: range) -> Counter[str]:
    """Plucks touched at a half and a third of their length: what they are taken for."""
    outcome = Counter[str]()
    for seed, kind, share in product(seeds, KINDS, (2, 3)):
        for place, target in enumerate(targets_hz(INSTRUMENTS[kind]).values()):
            rng = np.random.default_rng([seed, share, KINDS.index(kind), place])
            hz = shift_hz(target, rng.uniform(*TUNED_WITHIN))
            made = stick_slip.plucked(hz, SECONDS, rng, touched_at=share)
            heard = hear(sound_from(room(body(made.bridge, rng), rng).astype(np.float32), RATE), INSTRUMENTS[kind])
            if not isinstance(heard, Reading):
                outcome["refused"] += 1
            else:
                is_open = abs(cents_between(heard.hz, hz)) < GROSS_CENTS
                sure = heard.confidence > SURE
                outcome[f"{'the open string' if is_open else 'the harmonic, or another'}{', surely' if sure else ''}"] += 1
    return outcome


def body(samples: Samples, rng: np.random.Generator) -> Samples:
    """Through some wooden box: two dozen modes, whose lowest lies at a violin's air or a cello's, some 6 to 20 dB high."""
    out = 0.25 * samples
    for hz in rng.uniform(110.0, 280.0) * np.cumprod(rng.uniform(1.1, 1.35, 24)):
        if hz < 0.4 * RATE:
            out = out + lfilter(*iirpeak(hz, rng.uniform(12.0, 40.0), fs=RATE), samples) * rng.uniform(0.3, 1.6)
    return np.asarray(0.5 * out / np.abs(out).max())


def room(samples: Samples, rng: np.random.Generator) -> Samples:
    """In a room that dies away in 0.4 to 0.9 s, the walls as loud as the string itself or half as loud; a quiet hiss."""
    seconds = rng.uniform(0.4, 0.9)
    time = np.arange(int(seconds * RATE)) / RATE
    walls = rng.normal(0.0, 1.0, len(time)) * np.exp(-6.9 * time / seconds)
    walls[: int(0.004 * RATE)] = 0.0
    around = fftconvolve(samples, walls)[: len(samples)]
    around *= rng.uniform(0.5, 1.0) * np.sqrt(np.mean(samples**2) / (np.mean(around**2) + 1e-30))
    return np.asarray(samples + around + rng.normal(0.0, 3e-4, len(samples)))


def small(samples: Samples, rng: np.random.Generator) -> Samples:
    """Hardly anything under 200 to 260 Hz."""
    cut = butter(int(rng.choice([2, 3, 4])), rng.uniform(200.0, 260.0), "high", fs=RATE, output="sos")
    return np.asarray(sosfilt(cut, samples))


def called(samples: Samples, rng: np.random.Generator) -> Samples:
    """Through a call: 16 kHz, and a codec (Opus, by libsndfile) at some 10 to 23 thousand bits a second."""
    sent, told = resample_poly(samples, CALL_RATE, RATE), io.BytesIO()
    bits = float(rng.uniform(0.95, 1.0))
    soundfile.write(told, 0.5 * sent / np.abs(sent).max(), CALL_RATE, format="OGG", subtype="OPUS", compression_level=bits)
    told.seek(0)
    return np.asarray(resample_poly(soundfile.read(told)[0], RATE, CALL_RATE))


@dataclass(frozen=True)
class Room:
    """Others of a class, of the same models, and what stands beside a string."""

    others: list[Sounded]

    def playing(self, count: int, players: int, rng: np.random.Generator) -> Samples:
        """So many who tune at once, hardly pausing."""
        out = np.zeros(count)
        for _ in range(players):
            at = -int(rng.uniform(0.0, SECONDS) * RATE)
            while at < count:
                one = self.others[rng.integers(len(self.others))].samples * rng.uniform(0.4, 1.0)
                begin, end = max(0, at), min(count, at + len(one))
                out[begin:end] += one[begin - at : end - at]
                at += len(one) + int(rng.uniform(0.0, 0.4) * RATE)
        return out


Beside = Callable[[Samples, Room, np.random.Generator], Samples]
BESIDE: dict[str, Beside] = {
    "in a room": lambda one, _, rng: room(one, rng),
    "a small microphone": lambda one, _, rng: small(room(one, rng), rng),
    "a call": lambda one, _, rng: called(room(one, rng), rng),
    "a call, a small microphone": lambda one, _, rng: called(small(room(one, rng), rng), rng),
    "a class, -20 dB": lambda one, of, rng: mixed(room(one, rng), of.playing(len(one), 4, rng), below_db=20.0),
    "a class, -15 dB": lambda one, of, rng: mixed(room(one, rng), of.playing(len(one), 4, rng), below_db=15.0),
    "a class, -12 dB": lambda one, of, rng: mixed(room(one, rng), of.playing(len(one), 4, rng), below_db=12.0),
    "another, -15 dB": lambda one, of, rng: mixed(room(one, rng), of.playing(len(one), 1, rng), below_db=15.0),
    "talk, -15 dB": lambda one, _, rng: mixed(room(one, rng), talk(len(one), RATE, rng), below_db=15.0),
}


def strings(
    seeds: range,
    span: tuple[float, float],
    seconds: float = SECONDS,
    *,
    models: tuple[str, ...] = MODELS,
    change_seconds: float = 0.0,
) -> Iterator[Sounded]:
    """Every string of every instrument by every model, once a seed, ``span`` cents off its target."""
    for seed in seeds:
        for kind in KINDS:
            instrument = INSTRUMENTS[kind]
            for name, target in targets_hz(instrument).items():
                for model in models:
                    rng = np.random.default_rng(
                        [seed, KINDS.index(kind), instrument.string_names.index(name), MODELS.index(model)]
                    )
                    made = sounded(model, shift_hz(target, rng.uniform(*span)), seconds, rng, change_seconds=change_seconds)
                    if made is not None:
                        yield Sounded(model, instrument, name, body(made[0], rng), made[1])


def tallied(of: list[Sounded], beside: Beside, around: Room, *, named: bool) -> dict[str, Tally]:
    """What is heard of them, by model."""
    tallies: dict[str, Tally] = {}
    for place, one in enumerate(of):
        tally = tallies.setdefault(one.model, Tally())
        rng = np.random.default_rng([place, 77])
        sound = beside(one.samples, around, rng)
        sound = np.concatenate([rng.normal(0.0, 3e-4, RATE // 5), sound, rng.normal(0.0, 3e-4, RATE // 5)])
        heard = hear(sound_from(sound.astype(np.float32), RATE), one.instrument, string=one.string if named else None)
        tally.count += 1
        if not isinstance(heard, Reading):
            tally.refused += 1
            continue
        off = abs(cents_between(heard.hz, one.hz))
        if off > GROSS_CENTS:
            tally.gross += 1
            tally.sure += heard.confidence > SURE
        else:
            tally.off.append(off)
            tally.beyond += off > 3.0 * max(heard.spread_cents, 0.1)
        tally.other += heard.string != one.string and abs(cents_between(one.hz, targets_hz(one.instrument)[one.string])) < 100.0
    return tallies


def noise_alone(around: Room, count: int) -> tuple[int, int, int]:
    """Of so many stretches of a class alone: how many are readings, how many of them surer than 0.15, and how many lie on a
    string of one who may be playing there.
    """
    readings = usable = true = 0
    for seed in range(count):
        rng = np.random.default_rng([seed, 5])
        sound = room(around.playing(int(SECONDS * RATE), 6, rng), rng)
        heard = hear(
            sound_from((0.05 * sound / np.abs(sound).max()).astype(np.float32), RATE), INSTRUMENTS[KINDS[seed % len(KINDS)]]
        )
        if isinstance(heard, Reading):
            readings += 1
            usable += heard.confidence >= 0.15
            true += any(abs(cents_between(heard.hz, one.hz)) < OF_A_PLAYER_CENTS for one in around.others)
    return readings, usable, true


def live(own: list[Sounded], around: Room, below_db: float, *, players: int, of_model: str = "") -> Counter[str]:
    """Four strings of an instrument in any order, with pauses, in a room where others tune ``below_db`` under each of them."""
    outcome = Counter[str]()
    for place, kind in enumerate([kind for kind in KINDS for _ in range(MORNINGS)]):
        rng = np.random.default_rng([place, 31])
        mine = [one for one in own if one.instrument.kind == kind and one.model.startswith(of_model)]
        parts, soundings, at = [np.zeros(RATE // 2)], [], RATE // 2
        for name in rng.permutation(INSTRUMENTS[kind].string_names):
            one = (of_it := [each for each in mine if each.string == name])[rng.integers(len(of_it))]
            sound = one.samples[: int(rng.uniform(1.0, 2.0) * RATE)]
            sound = 0.1 * sound / float(np.sqrt(np.mean(sound**2)))
            sound[-2000:] *= np.linspace(1.0, 0.0, 2000)
            soundings.append(Sounding(at / RATE, (at + len(sound)) / RATE, one.hz))
            parts += [sound, np.zeros(int(rng.uniform(0.5, 1.2) * RATE))]
            at += len(parts[-1]) + len(parts[-2])
        whole = room(np.concatenate(parts), rng)
        if players:
            others = around.playing(len(whole), players, rng)
            whole = whole + others * 0.1 * 10.0 ** (-below_db / 20.0) / float(np.sqrt(np.mean(others**2)))
        outcome += counted(heard_live(np.clip(0.5 * whole, -1.0, 1.0), kind), soundings)
    return outcome


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--seeds", type=int, nargs=2, default=(1, 4), metavar=("FIRST", "END"))
    options.add_argument("--only", default="", help="rows whose names hold this; live: those alone")
    given = options.parse_args()
    if which("csound") is None:
        raise SystemExit("These waveguides are csound's, of Debian's packages; install it first: apt-get install csound")
    seeds = range(*given.seeds)
    around = Room(list(strings(range(given.seeds[0] + 10_000, given.seeds[0] + 10_001), TUNED_WITHIN)))
    sets: dict[str, tuple[Callable[[], Iterator[Sounded]], tuple[str, ...]]] = {
        "": (lambda: strings(seeds, TUNED_WITHIN), tuple(BESIDE)),
        "slack, ": (lambda: strings(seeds, SLACK), ("in a room", "a small microphone", "a call, a small microphone")),
        "short strokes, ": (lambda: strings(seeds, TUNED_WITHIN, SHORT_SECONDS, models=BOWED), ("in a room",)),
        "bow changes, ": (
            lambda: strings(seeds, TUNED_WITHIN, models=BOWED[:1], change_seconds=CHANGE_SECONDS), ("in a room",),
        ),
    }  # fmt: skip
    print(f"{'':59s}heard refused gross  sure  other   median   95 % beyond")
    for what, (make, rows) in sets.items():
        wanted = [row for row in rows if given.only in what + row]
        made = list(make()) if wanted else []
        for row in wanted:
            for named in (False, True):
                for model, tally in sorted(tallied(made, BESIDE[row], around, named=named).items()):
                    print(f"{what + row + (', named' if named else ''):34s}{model:24s}{tally.line()}", flush=True)
    made = list(strings(seeds, TUNED_WITHIN))
    print(f"live: {'':52s}" + "  ".join(COLUMNS))
    for what, players, below_db in LIVE:
        for model in MODELS:
            outcome = live(made, around, below_db, players=players, of_model=model)
            print(f"{what:34s}{model:24s}" + "  ".join(f"{outcome[each]:{len(each)}d}" for each in COLUMNS), flush=True)
    print("harmonics:", ", ".join(f"{what} {times}" for what, times in harmonics(seeds).most_common()))
    readings, usable, true = noise_alone(around, 40)
    print(f"a class alone, 40 stretches: {readings} readings, {usable} of them usable, {true} on a player's string")


if __name__ == "__main__":
    main()
