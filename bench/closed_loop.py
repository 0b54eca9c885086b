"""Does following the advice tune an instrument, in few moves, without breaking anything? 500 simulated instruments.

Run: ``bin/pondus bench closed_loop [--instruments 500] [--mishaps 0.03] [--through-api] [--rough]``. Beside the two who follow
Pondus (step by step, and turning while it sounds) plain players with the same hands, which now and then take the neighbour's
peg, or forget to turn. ``--through-api``: those who follow Pondus have nothing but the application's pages, and a third has a
tuner without figures. ``--rough``: on instruments and with hands that nothing was tried on. *bare*: seconds on a string
without a screw, to those on one that has it.
"""

import argparse
import itertools
import sys
import time
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from functools import partial

import numpy as np

from bench.players import Follower, Plain, Player
from bench.rough import RoughHands, roughened
from bench.sounding import PlainSounding, SoundingFollower
from bench.through_api import ThroughApi
from pondus.core.instruments import INSTRUMENTS, KINDS
from pondus.core.simulated.hands import Hands
from pondus.core.simulated.weather import STARTS, Start, begun
from pondus.core.simulated.wood import Fitted, Wood, made
from pondus.running.scratch_studio import scratch_cluster
from pondus.store.database import migrate
from pondus.web.app import WebConfig, create_app

TRULY_CENTS, TRULY_NO_SCREW_CENTS = 3.0, 6.0
FIFTHS_CENTS, FIFTHS_NO_SCREW_CENTS = 5.0, 8.0
NO_SCREW, GEARED, SYNTHETIC, REVERSED, OLD = 0.08, 0.08, 0.25, 0.02, 0.15
Make = Callable[[Wood, dict[str, Fitted], Hands], Player]
PLAYERS: dict[str, Make] = {
    "Pondus": Follower,
    "Pondus, sounding": SoundingFollower,
    "plain, sounding": PlainSounding,
    "plain": lambda wood, fitted, hands: Plain(wood, fitted, hands, peg_past=None),
    "plain, peg past 50": lambda wood, fitted, hands: Plain(wood, fitted, hands, peg_past=50.0),
}


AGAINST = {"Pondus": "plain", "Pondus, sounding": "plain, sounding", "pages": "plain", "pages, sounding": "plain, sounding"}


def instrument(seed: int) -> tuple[Wood, dict[str, Fitted], Start]:
    """A random instrument of the studio in a starting state. A violin's E always has its screw: none is sold without."""
    rng = np.random.default_rng([seed, 7])
    kind = KINDS[int(rng.integers(len(KINDS)))]
    size = str(rng.choice(list(INSTRUMENTS[kind].lengths_mm)))
    core = "synthetic" if rng.uniform() < SYNTHETIC else "steel"
    geared = rng.uniform() < GEARED
    age = float(rng.uniform(366, 900)) if rng.uniform() < OLD else float(rng.uniform(10, 360))
    start = STARTS[seed % len(STARTS)]
    fitted = {
        name: Fitted(
            core=core,  # type: ignore[arg-type]
            has_screw=bool(rng.uniform() >= NO_SCREW) or (kind, name) == ("violin", "E"),
            peg_kind="geared" if geared else "friction",
            winding="reversed" if rng.uniform() < REVERSED else "normal",
            age_days=3.0 if start == "new-strings" else age,
        )
        for name in INSTRUMENTS[kind].string_names
    }
    return begun(made(kind, seed=seed, size=size, fitted=fitted), start), fitted, start


class Count:
    """What happened to one player in one starting state."""

    def __init__(self) -> None:
        self.instruments = self.tuned = self.fifths = self.moves = self.seconds = 0
        self.broken = self.fallen = self.raised_sharp = self.gave_up = self.reversals = 0
        self.wrong_raised = self.worst_raised = 0.0
        self.as_predicted: list[float] = []
        self.with_screw: list[float] = []
        self.without_screw: list[float] = []

    def add(self, player: Player) -> None:
        wood, tally = player.wood, player.tally
        self.instruments += 1
        whole = wood.bridge == "up" and all(wood.sounds(name) for name in wood.now)
        strings = whole and strings_right(wood, player.fitted)
        fifths = whole and fifths_right(wood, player.fitted)
        self.tuned += strings and fifths
        self.fifths += fifths
        self.moves += tally.moves
        self.seconds += tally.seconds
        self.broken += sum(each.broken for each in wood.now.values())
        self.fallen += wood.bridge == "fallen"
        self.raised_sharp += tally.raised_sharp
        self.gave_up += tally.gave_up
        self.reversals = max(self.reversals, tally.reversals)
        self.wrong_raised += tally.wrong_raised
        for name in wood.now:
            (self.with_screw if player.fitted[name].has_screw else self.without_screw).append(tally.seconds_on[name])
        if tally.predicted:
            self.as_predicted.append(tally.seconds / tally.predicted)
        self.worst_raised = max(self.worst_raised, tally.wrong_raised)

    @property
    def without_to_with(self) -> float:
        """Seconds on a string without a screw, to those on a string with one (means)."""
        if not self.without_screw or not any(self.with_screw):
            return float("nan")
        return float(np.mean(self.without_screw) / np.mean(self.with_screw))

    def line(self) -> str:
        n = max(1, self.instruments)
        return (
            f"{self.tuned / n:7.1%} {self.moves / n:7.1f} {self.seconds / n:7.0f} {self.broken:7d} {self.fallen:6d}"
            f" {self.raised_sharp:6d} {self.gave_up:7d} {self.wrong_raised / n:7.1f} {self.worst_raised:6.0f}"
            f" {self.reversals:4d} {self.without_to_with:7.2f}"
        )


def strings_right(wood: Wood, fitted: dict[str, Fitted]) -> bool:
    """Whether every string truly is within 3 cents of its target, 6 where it has no screw."""
    return all(
        abs(wood.cents_off(name)) <= (TRULY_CENTS if fitted[name].has_screw else TRULY_NO_SCREW_CENTS) for name in wood.now
    )


def fifths_right(wood: Wood, fitted: dict[str, Fitted]) -> bool:
    """Whether every fifth truly is within 5 cents of the temperament, 8 where a screw is missing."""
    names = wood.instrument.string_names
    off = {name: wood.cents_off(name) for name in names}
    return all(
        abs(off[upper] - off[lower])
        <= (FIFTHS_CENTS if fitted[lower].has_screw and fitted[upper].has_screw else FIFTHS_NO_SCREW_CENTS)
        for lower, upper in itertools.pairwise(names)
    )


def not_right(player: Player) -> str:
    """What isn't right in the end: how far off in cents, or what happened; empty where all is well."""
    wood, fitted = player.wood, player.fitted
    if wood.bridge != "up" or not all(wood.sounds(name) for name in wood.now):
        return f"bridge {wood.bridge}, broken {[name for name, each in wood.now.items() if each.broken]}"
    if strings_right(wood, fitted) and fifths_right(wood, fitted):
        return ""
    return ", ".join(
        f"{name}{'' if fitted[name].has_screw else ' (no screw)'} {wood.cents_off(name):+.1f}" for name in wood.now
    )


@contextmanager
def all_players(*, through_api: bool) -> Iterator[dict[str, Make]]:
    """Who plays; ``through_api``: those who have the pages alone, in place of those who ask the core."""
    if not through_api:
        yield PLAYERS
        return
    with scratch_cluster() as cluster:
        url = cluster.ensure_database("trial")
        migrate(url)
        client = create_app(WebConfig(database_url=url, ears_at_once=False)).test_client()
        yield {
            "pages": partial(ThroughApi, client=client),
            "pages, sounding": partial(ThroughApi, client=client, turning="while-sounding"),
            "pages, no figures": partial(ThroughApi, client=client, figures=False),
            "plain, sounding": PLAYERS["plain, sounding"],
            "plain": PLAYERS["plain"],
        }


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--instruments", type=int, default=500)
    options.add_argument("--first", type=int, default=0, help="the first seed")
    options.add_argument("--mishaps", type=float, default=0.03, help="share of moves")
    options.add_argument("--rough", action="store_true", help="instruments and hands that nothing was tried on")
    options.add_argument("--through-api", action="store_true", help="through the application's own API")
    given = options.parse_args()
    with all_players(through_api=given.through_api) as players:
        trial(players, range(given.first, given.first + given.instruments), mishaps=given.mishaps, rough=given.rough)


def trial(players: Mapping[str, Make], seeds: range, *, mishaps: float, rough: bool = False) -> None:
    """Every player on every instrument; prints what came of it. ``rough``: on `rough` ones."""
    counts = {(start, name): Count() for start in (*STARTS, "all") for name in players}
    spent = dict.fromkeys(players, 0.0)
    for seed in seeds:
        wood, fitted, start = instrument(seed)
        wood = roughened(wood, seed) if rough else wood
        for name, make in players.items():
            hands = (RoughHands if rough else Hands)(np.random.default_rng([seed, 11]), mishaps)
            player = make(wood, fitted, hands)
            began = time.perf_counter()
            player.tune()  # type: ignore[attr-defined]
            spent[name] += time.perf_counter() - began
            counts[start, name].add(player)
            counts["all", name].add(player)
            wrong = not_right(player)
            if wrong:
                gave_up = ", gave up" if player.tally.gave_up else ""
                print(f"instrument {seed}, {name}{gave_up}: {wrong}", file=sys.stderr)
            if getattr(player, "stuck", None):
                print(f"instrument {seed}, {name}: {player.stuck}")  # type: ignore[attr-defined]
    head = f"{'start':14s} {'player':19s} {'tuned':>7s} {'moves':>7s} {'seconds':>7s} {'broken':>7s} {'fallen':>6s}"
    more = f"{'sharp↑':>6s} {'gave up':>7s} {'wrong↑':>7s} {'worst':>6s} {'back':>4s} {'bare':>7s}"
    print(f"{head} {more}   moves, seconds against plain; taken to predicted")
    for start in (*STARTS, "all"):
        for place, name in enumerate(players):
            count = counts[start, name]
            share = ""
            if name in AGAINST:
                plain = counts[start, AGAINST[name]]
                share = f"   {count.moves / max(1, plain.moves):.2f} {count.seconds / max(1, plain.seconds):.2f}"
                share += f"   {np.median(count.as_predicted):.2f}"
            print(f"{start if place == 0 else '':14s} {name:19s} {count.line()}{share}")
    print("\n" + ", ".join(f"{name} {seconds:.1f} s" for name, seconds in spent.items()))


if __name__ == "__main__":
    main()
