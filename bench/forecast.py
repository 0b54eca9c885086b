"""The forecast for next morning beside "same as last time", on simulated instruments over a term: every morning
is told from the mornings before it only.

Run: ``bin/pondus bench forecast [--instruments 60] [--mornings 56]``.
"""

import argparse
import math
from dataclasses import replace

import numpy as np

from pondus.core.simulated.weather import days_later, slipped
from pondus.core.simulated.wood import Fitted, made
from pondus.core.upkeep.forecast import Night, forecast

NOT_BEFORE = 5
"""Mornings that pass before the first forecast."""


def nights_of(seed: int, mornings: int) -> list[list[Night]]:
    """One instrument's nights, string by string; the room's air goes its own way; now and then nobody tunes."""
    rng = np.random.default_rng(seed)
    kind = ("violin", "viola", "cello")[seed % 3]
    wood = made(kind, seed=seed, fitted={"A": Fitted(age_days=1.0)} if seed % 5 == 0 else None)
    names, day = list(wood.now), 0.0
    found: list[list[Night]] = [[] for _ in names]
    for _ in range(mornings):
        apart = 1.0 if rng.uniform() < 0.8 else 3.0
        tuned = rng.uniform() < 0.85
        left = {}
        for name in names:
            if tuned:
                wood = slipped(wood, name, float(rng.normal(0.0, 1.3)))
            left[name] = wood.cents_off(name) + float(rng.normal(0.0, 0.5))
        celsius = 20.0 + 0.7 * (wood.celsius - 20.0) + float(rng.normal(0.0, 1.6))
        humidity = min(85.0, max(25.0, 60.0 + 0.8 * (wood.humidity - 60.0) + float(rng.normal(0.0, 5.0))))
        change = (celsius - wood.celsius, humidity - wood.humidity)
        wood = days_later(replace(wood, step=wood.step + 1), apart, humidity=humidity, celsius=celsius)
        for place, name in enumerate(names):
            if rng.uniform() < 0.01:
                wood = slipped(wood, name, wood.cents_off(name) - float(rng.uniform(80.0, 300.0)))
            age = day if seed % 5 == 0 and name == "A" else None
            heard = wood.cents_off(name) + float(rng.normal(0.0, 0.5))
            found[place].append(Night(apart, left[name], heard, *change, age))
        day += apart
    return found


def main() -> None:
    options = argparse.ArgumentParser(description=__doc__)
    options.add_argument("--instruments", type=int, default=60)
    options.add_argument("--mornings", type=int, default=56)
    given = options.parse_args()
    errors: dict[str, list[float]] = {"forecast": [], "forecast, air unknown": [], "same as last time": [], "as left": []}
    within, within_unknown, slips = [], [], 0
    for seed in range(given.instruments):
        for nights in nights_of(seed, given.mornings):
            for place in range(NOT_BEFORE, len(nights)):
                night = nights[place]
                if night.gave_way:
                    slips += 1
                    continue
                told = forecast(nights[:place], replace(night, found_cents=math.nan))
                blind = forecast(
                    nights[:place], replace(night, found_cents=math.nan, celsius_change=None, humidity_change=None)
                )
                errors["forecast"].append(abs(told.cents - night.found_cents))
                errors["forecast, air unknown"].append(abs(blind.cents - night.found_cents))
                errors["same as last time"].append(abs(nights[place - 1].found_cents - night.found_cents))
                errors["as left"].append(abs(night.left_cents - night.found_cents))
                within.append(abs(told.cents - night.found_cents) <= told.plus_minus)
                within_unknown.append(abs(blind.cents - night.found_cents) <= blind.plus_minus)
    print(f"{len(within)} mornings of a string, {slips} nights left out in which a peg gave way; cents off:")
    for name, off in errors.items():
        print(f"  {name:22s} {np.mean(off):6.2f} mean  {np.median(off):6.2f} median  {np.percentile(off, 95):6.2f} at 95 %")
    ratio = np.mean(errors["forecast"]) / np.mean(errors["same as last time"])
    print(f"  forecast against same as last time: {ratio:.2f} of its error")
    print(
        f"  within the ± told: {100 * np.mean(within):.0f} %, air unknown {100 * np.mean(within_unknown):.0f} % (68 % wanted)"
    )


if __name__ == "__main__":
    main()
