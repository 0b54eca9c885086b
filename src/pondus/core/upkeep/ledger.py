"""What the weeks did to an instrument's strings: nights between tunings, next morning's forecast, pegs by the air."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from itertools import pairwise
from math import nan

from pondus.core.clock import Clock
from pondus.core.figures import Tenth
from pondus.core.hands.learned import LearnedRates, learned_rates, move_log
from pondus.core.hands.records import FittedInstrument, FittedString, Tuning, age_when, situation_of
from pondus.core.hands.summary import TuningSummary
from pondus.core.judgement.situation import Situation
from pondus.core.pitch.notes import cents_between
from pondus.core.upkeep.forecast import Forecast, Night, forecast, gave_way, standing_word
from pondus.core.upkeep.slips import SlipRate, Tuned, slip_rates


@dataclass(frozen=True)
class TuningInAir:
    """One tuning with the room's air (per cent, degrees Celsius; None: nobody measured), and who did it."""

    summary: TuningSummary
    by: str | None = None
    humidity: float | None = None
    celsius: float | None = None


@dataclass(frozen=True)
class LedgerString:
    """One string: what its moves taught, where it is told to stand next morning (None: never heard), and as it was found every
    time, in cents, oldest first.
    """

    fitted: FittedString
    situation: Situation
    learned: LearnedRates
    forecast: Forecast | None
    found_cents: tuple[float, ...]

    @property
    def flat_times(self) -> int:
        """How often it was found flat, past the tolerance."""
        tolerance = self.situation.tolerance_cents
        return sum(standing_word(cents, tolerance_cents=tolerance) == "flat" for cents in self.found_cents)

    @property
    def furthest_cents(self) -> float | None:
        """The furthest off it was found, in cents; None where it was never heard."""
        return max(self.found_cents, key=abs, default=None)


@dataclass(frozen=True)
class TimeSpent:
    """Minutes at an instrument: all, on average, and how many moves a tuning takes."""

    tunings: int
    minutes: Tenth
    minutes_each: Tenth
    moves_each: Tenth


def time_spent(tunings: Sequence[TuningInAir]) -> TimeSpent:
    """What an instrument's tunings took; nothing where there were none."""
    count = max(1, len(tunings))
    minutes = sum(one.summary.minutes for one in tunings)
    moves = sum(one.summary.screw_moves + one.summary.peg_moves for one in tunings)
    return TimeSpent(len(tunings), minutes, minutes / count, moves / count)


def ledger_strings(
    instrument: FittedInstrument, how: Tuning, tunings: Sequence[TuningInAir], *, clock: Clock
) -> list[LedgerString]:
    """Every string that is on the instrument, thickest first. ``how``: as it usually is tuned."""
    measured = move_log(one.summary for one in tunings)
    strings = []
    for name in instrument.facts.string_names:
        fitted = instrument.fitted(name)
        if fitted is not None:
            facts = situation_of(instrument, how, fitted, today=clock.today)
            learned = learned_rates(fitted, facts, measured.moves.get(name, ()), clock=clock)
            offs = [one.summary.strings[name].found_cents for one in tunings if name in one.summary.strings]
            told = next_morning(tunings, fitted, clock=clock)
            heard = tuple(cents for cents in offs if cents is not None)
            strings.append(LedgerString(fitted, facts, learned, told, heard))
    return strings


def next_morning(tunings: Sequence[TuningInAir], string: FittedString, *, clock: Clock) -> Forecast | None:
    """Where a string will stand on the morning after today, if nobody turns it; None where it was never heard."""
    heard = [one for one in tunings if _left(one, string.name) is not None]
    if not heard:
        return None
    last = heard[-1].summary
    morning = clock.begins(clock.today + timedelta(days=1)) + clock.since_midnight(last.started_at)
    days = max(0.25, (morning - last.started_at) / timedelta(days=1))
    age = age_when(clock.day_of(last.started_at), string.put_on)
    ahead = Night(days, _left(heard[-1], string.name) or 0.0, nan, string_age_days=age)
    return forecast(nights(tunings, string, clock=clock), ahead)


def nights(tunings: Sequence[TuningInAir], string: FittedString, *, clock: Clock) -> list[Night]:
    """A string's nights since it was put on, oldest first."""
    found = []
    for before, after in pairwise(tunings):
        left, came = _left(before, string.name), _found(after, before, string.name)
        day = clock.day_of(before.summary.started_at)
        if left is None or came is None or (string.put_on is not None and day < string.put_on):
            continue
        found.append(
            Night(
                (after.summary.started_at - before.summary.started_at) / timedelta(days=1),
                left,
                came,
                _change(before.celsius, after.celsius),
                _change(before.humidity, after.humidity),
                age_when(day, string.put_on),
            )
        )
    return found


def _left(one: TuningInAir, name: str) -> float | None:
    """As left, in cents from the target of its own tuning."""
    string = one.summary.strings.get(name)
    return None if string is None else string.left_cents


def _found(one: TuningInAir, before: TuningInAir, name: str) -> float | None:
    """As found, in cents from the target of the tuning before."""
    string, earlier = one.summary.strings.get(name), before.summary.strings.get(name)
    if string is None or string.found_hz is None:
        return None
    return cents_between(string.found_hz, (earlier or string).target_hz)


def _change(before: float | None, after: float | None) -> float | None:
    return None if before is None or after is None else after - before


def slip_rates_of(tunings: Sequence[TuningInAir], put_on: Mapping[str, date | None], *, clock: Clock) -> list[SlipRate]:
    """How often pegs gave way, by the air."""
    slipped = slips_of([one.summary for one in tunings], put_on, clock=clock)
    heard = [one for one in tunings if one.summary.strings]
    return slip_rates(
        Tuned(one.humidity, len(one.summary.strings), len(strings)) for one, strings in zip(heard, slipped, strict=True)
    )


def slips_of(tunings: Sequence[TuningSummary], put_on: Mapping[str, date | None], *, clock: Clock) -> list[frozenset[str]]:
    """Of each tuning that turned or heard anything, the strings whose peg gave way in it or the night before. ``put_on``: since
    when each string is on.
    """
    slipped, before = [], None
    for one in tunings:
        if not one.strings:
            continue
        names = {name for name, string in one.strings.items() if string.slips > 0}
        if before is not None:
            names |= {name for name in one.strings if _gave_way(before, one, name, put_on.get(name), clock)}
        slipped.append(frozenset(names))
        before = one
    return slipped


def _gave_way(before: TuningSummary, after: TuningSummary, name: str, put_on: date | None, clock: Clock) -> bool:
    left = before.strings[name].left_hz if name in before.strings else None
    found_hz = after.strings[name].found_hz
    if left is None or found_hz is None:
        return False
    was, came = clock.day_of(before.started_at), clock.day_of(after.started_at)
    another = put_on is not None and was < put_on <= came
    change = cents_between(found_hz, left)
    return change < 0.0 and not another and gave_way(change, string_age_days=age_when(was, put_on))
