"""Players who tell little: who never press, whose tuner shows letters or lights, who go by ear, who turn while a microphone
listens.

All go through the application's own API as `ThroughApi` does; what it tells is left out here. Nobody says where a screw
stands. Questions are answered by looking.

Run: ``bin/pondus bench untold [--instruments 40] [--first 20000] [--mishaps 0.03] [--rough] [--touchy]``
"""

import argparse
from collections.abc import Callable
from functools import partial

import numpy as np
from flask.testing import FlaskClient

from bench.closed_loop import Count, instrument, not_right
from bench.players import Player
from bench.rough import RoughHands, roughened, touchy
from bench.sounding import PlainSounding
from bench.untold_players import Blind, Ear, Hasty, Letters, Lights, Microphone, Silent, Telling, Two
from pondus.core.simulated.hands import Hands
from pondus.core.simulated.wood import Fitted, Wood
from pondus.running.scratch_studio import scratch_cluster
from pondus.store.database import migrate
from pondus.web.app import WebConfig, create_app

SIX_IN_A_ROW, NEAR_CENTS = 6, 10.0
Make = Callable[[Wood, dict[str, Fitted], Hands], Player]


def players(client: FlaskClient) -> dict[str, Make]:
    """Who plays."""
    sounding = {"client": client, "turning": "while-sounding"}
    return {
        "tells all": partial(Telling, **sounding),
        "silent": partial(Silent, **sounding),
        "silent, by steps": partial(Silent, client=client),
        "blind": partial(Blind, **sounding),
        "blind, by steps": partial(Blind, client=client),
        "hasty": partial(Hasty, **sounding),
        "hasty, by steps": partial(Hasty, client=client),
        "letters": partial(Letters, **sounding),
        "lights": partial(Lights, **sounding),
        "ear": partial(Ear, **sounding),
        "ear, by steps": partial(Ear, client=client),
        "two people": partial(Two, **sounding),
        "microphone": partial(Microphone, **sounding),
        "plain, sounding": PlainSounding,
    }


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--instruments", type=int, default=40)
    options.add_argument("--first", type=int, default=20000, help="the first seed")
    options.add_argument("--mishaps", type=float, default=0.03, help="share of moves")
    options.add_argument("--rough", action="store_true", help="instruments and hands that nothing was tried on")
    options.add_argument("--touchy", action="store_true", help="screws and pegs that do much less or more than usual")
    options.add_argument("--who", default="", help="only these, by their names' beginnings, with commas")
    options.add_argument("--tell", action="store_true", help="say of each what isn't right")
    given = options.parse_args()
    with scratch_cluster() as cluster:
        url = cluster.ensure_database("trial")
        migrate(url)
        client = create_app(WebConfig(database_url=url, ears_at_once=False)).test_client()
        chosen = players(client)
        if given.who:
            chosen = {name: make for name, make in chosen.items() if name.startswith(tuple(given.who.split(",")))}
        print(f"{'':18} {'right':>6} {'10 c':>6} broke fell moves  secs entries/string ask false 6xsame screw off 50 % 90 %")
        for name, make in chosen.items():
            _trial(name, make, range(given.first, given.first + given.instruments), given)


def _trial(name: str, make: Make, seeds: range, given: argparse.Namespace) -> None:
    count, near, played = Count(), 0, []
    for seed in seeds:
        wood, fitted, start = instrument(seed)
        wood = roughened(wood, seed) if given.rough else wood
        wood = touchy(wood, seed) if given.touchy else wood
        hands = (RoughHands if given.rough else Hands)(np.random.default_rng([seed, 11]), given.mishaps)
        player = make(wood, fitted, hands)
        player.tune()  # type: ignore[attr-defined]
        count.add(player)
        whole = player.wood.bridge != "fallen" and all(player.wood.sounds(one) for one in player.names)
        near += whole and all(abs(player.wood.cents_off(one)) <= NEAR_CENTS for one in player.names)
        if isinstance(player, Telling):
            played.append(player)
            if given.tell and not_right(player):
                print(f"  {seed} {start} {name}: {not_right(player)} | {player.stuck}")
    n = len(seeds)
    entries = np.median([np.nan] if not played else [one.entries_of[name] for one in played for name in one.names])
    screws = [error for one in played for error in one.screw_errors()] or [np.nan]
    print(
        f"{name:18} {count.tuned / n:6.1%} {near / n:6.1%} {count.broken:5d} {count.fallen:4d} {count.moves / n:5.1f}"
        f" {count.seconds / n:5.0f} {entries:14.1f} {sum(one.questions for one in played):3d}"
        f" {sum(one.false_questions for one in played):5d} {sum(one.longest >= SIX_IN_A_ROW for one in played):6d}"
        f" {np.percentile(screws, 50):14.2f} {np.percentile(screws, 90):4.2f}",
        flush=True,
    )


if __name__ == "__main__":
    main()
