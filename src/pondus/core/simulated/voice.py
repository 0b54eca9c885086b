"""How a simulated instrument sounds: strings bowed or plucked, one or two at once, in a room.

A voice is rendered block by block, so that its pitch may change while it sounds; every partial keeps its phase. Bowed
partials are whole multiples, with a change of bow every second and a half (the level dips, the pitch bends); plucked ones
are stretched, start a little sharp and die away, the higher the faster. Low strings have next to no fundamental; a body of
a few resonances, the instrument's own, colours all of them. Levels are full scale ±1.
"""

from typing import Literal

import numpy as np

from pondus.core.errors import BadInput
from pondus.core.simulated.sound import Samples, hum, mixed, white_noise
from pondus.core.simulated.wood import Wood

How = Literal["bow", "pluck"]
PARTIALS = 18
BOW_CHANGE_SECONDS, BEND_CENTS, BEND_SECONDS = 1.6, 12.0, 0.035
FLUTTER_CENTS = 0.4
SHARP_START_CENTS, SHARP_SECONDS, RINGS_SECONDS = 10.0, 0.06, 1.1
WEAK_BELOW_HZ, WEAK_DB = 150.0, -26.0
LEVEL = 0.22
RATES_HZ = (8_000, 96_000)
LONGEST_SECONDS = 60.0
QUIET_ROOM_DB, QUIET_HUM_DB = 42.0, 55.0


class Voice:
    """One string sounding. Ask it for block after block with the pitch the string has just then."""

    def __init__(self, wood: Wood, name: str, how: How, rate_hz: int) -> None:
        wood.string(name)
        body = np.random.default_rng([wood.seed, 0xB0D7])
        own = np.random.default_rng([wood.seed, wood.step, ord(name)])
        target = wood.true[name].target_hz
        count = int(max(1, min(PARTIALS, 0.42 * rate_hz // target)))
        self.how, self.rate_hz = how, rate_hz
        self._orders = np.arange(1.0, count + 1.0)
        stiffness = float(own.uniform(0.5e-4, 3e-4)) if how == "pluck" else 0.0
        self._stretch = self._orders * np.sqrt((1.0 + stiffness * self._orders**2) / (1.0 + stiffness))
        self._gains = _body(self._orders * target, body) / self._orders
        if target < WEAK_BELOW_HZ:
            self._gains[0] *= 10.0 ** (WEAK_DB / 20.0)
        if how == "pluck":
            self._gains *= np.abs(np.sin(np.pi * self._orders * own.uniform(0.12, 0.3))) + 0.05
        self._gains *= LEVEL / np.sqrt(np.sum(np.square(self._gains)) / 2.0) / np.sqrt(2.0)
        self._starts = own.uniform(0.0, 1.0, count)
        self._own = own
        self._turns, self._age, self._hz, self._flutter = 0.0, 0, 0.0, 0.0

    def block(self, samples: int, hz: float) -> Samples:
        """The next samples, gliding from the pitch before to ``hz``: shape (samples,)."""
        time = (self._age + np.arange(samples)) / self.rate_hz
        before = self._hz or hz
        bend, level = self._bow(time) if self.how == "bow" else self._pluck(time)
        pitch = np.linspace(before, hz, samples, endpoint=False) * 2.0 ** (bend / 1200.0)
        turns = self._turns + np.cumsum(pitch) / self.rate_hz
        phases = self._stretch[:, None] * turns[None, :] + self._starts[:, None]
        waves = np.sin(((phases - np.floor(phases)) * (2.0 * np.pi)).astype(np.float32))
        sound = self._gains @ (waves * level) if level.shape[0] > 1 else (self._gains @ waves) * level[0]
        self._turns, self._age, self._hz = float(turns[-1]), self._age + samples, hz
        return np.asarray(sound)

    def _bow(self, time: Samples) -> tuple[Samples, Samples]:
        """Bend in cents and level of a bow that changes direction now and then."""
        change = np.round(time / BOW_CHANGE_SECONDS)
        near = np.exp(-(((time - change * BOW_CHANGE_SECONDS) / BEND_SECONDS) ** 2)) * (change > 0)
        way = np.where(change % 2 == 0, 1.0, -1.0)
        aimed = float(self._own.normal(0.0, FLUTTER_CENTS))
        flutter = np.linspace(self._flutter, aimed, len(time), endpoint=False)
        self._flutter = aimed
        level = np.minimum(1.0, time / 0.06) * (1.0 - 0.85 * near)
        return way * BEND_CENTS * near + flutter, level[None, :]

    def _pluck(self, time: Samples) -> tuple[Samples, Samples]:
        """Bend in cents and each partial's level after a pluck."""
        decays = RINGS_SECONDS / (1.0 + 0.15 * (self._orders - 1.0))
        level = np.exp(-time[None, :] / decays[:, None]) * np.minimum(1.0, time / 0.003)[None, :]
        return SHARP_START_CENTS * np.exp(-time / SHARP_SECONDS), np.asarray(level)

    @property
    def is_over(self) -> bool:
        """Whether a pluck has died away."""
        return self.how == "pluck" and self._age > 4.0 * RINGS_SECONDS * self.rate_hz


def _body(partial_hz: Samples, rng: np.random.Generator) -> Samples:
    """The instrument's resonances: each partial some dB up or down."""
    centres, heights = rng.uniform(150.0, 4000.0, 7), rng.uniform(0.2, 1.3, 7)
    bumps = heights[:, None] * np.exp(-(((partial_hz[None, :] - centres[:, None]) / (0.3 * centres[:, None])) ** 2))
    return np.asarray(0.4 + bumps.sum(axis=0))


def _alone(wood: Wood, name: str, how: How, count: int, rate_hz: int) -> Samples:
    """One string, in blocks of a tenth of a second."""
    voice, step = Voice(wood, name, how, rate_hz), rate_hz // 10
    sizes = [min(step, count - start) for start in range(0, count, step)]
    return np.concatenate([voice.block(size, wood.hz(name)) for size in sizes])


def sounded(
    wood: Wood,
    names: tuple[str, ...],
    *,
    how: How = "bow",
    seconds: float = 2.0,
    rate_hz: int = 44_100,
    noise_db: float | None = QUIET_ROOM_DB,
    hum_db: float | None = QUIET_HUM_DB,
) -> Samples:
    """One or two strings for so long, in a room: shape (seconds * rate_hz,). ``noise_db`` and ``hum_db`` under the strings;
    None leaves them out.

    Raises BadInput for strings that aren't there or are broken, more than two, or a length or rate that can't be.
    """
    if not 1 <= len(names) <= 2 or len(set(names)) != len(names):
        raise BadInput("strings", "A bow sounds one string, or two neighbours; name one or two.")
    if not 0.1 <= seconds <= LONGEST_SECONDS:
        raise BadInput("seconds", f"{seconds:g} seconds is outside 0.1–{LONGEST_SECONDS:g}; 2 are plenty.")
    if not RATES_HZ[0] <= rate_hz <= RATES_HZ[1]:
        raise BadInput("rate", f"A rate of {rate_hz} samples per second is outside {RATES_HZ[0]}–{RATES_HZ[1]}.")
    count = round(seconds * rate_hz)
    both = np.sum([_alone(wood, name, how, count, rate_hz) for name in names], axis=0)
    rng = np.random.default_rng([wood.seed, wood.step, 0x0153])
    if noise_db is not None:
        both = mixed(both, white_noise(count, rng), below_db=noise_db)
    if hum_db is not None:
        both = mixed(both, hum(count, rate_hz, rng), below_db=hum_db)
    return np.asarray(both)
