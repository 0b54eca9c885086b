"""Which checks of fifths still hold: until either string is turned, or read alone."""

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import pairwise
from uuid import UUID, uuid5

from pondus.core.fifths.beats import fifth_between
from pondus.core.hands.records import FifthCheck, TuningLog
from pondus.core.instruments import Instrument

Pair = tuple[str, str]
SIDES = ("lower", "upper")


def reading_id(check_id: UUID, side: str) -> UUID:
    """Under which id the reading of one side (``lower``, ``upper``) of a check is kept."""
    return uuid5(check_id, side)


def holding_checks(log: TuningLog, instrument: Instrument) -> Mapping[Pair, FifthCheck]:
    """Per pair the last check that counts and still holds."""
    holding = {}
    counting = [check for check in log.checks if check.counts]
    for pair in pairwise(instrument.string_names):
        last = next((check for check in reversed(counting) if check.pair == pair), None)
        if last is not None and not _changed_since(log, last):
            holding[pair] = last
    return holding


def _changed_since(log: TuningLog, check: FifthCheck) -> bool:
    """Whether a string of the pair was turned after a check, or read in another way."""
    own = {reading_id(check.id, side) for side in SIDES}
    later = [(move.string, move.seq) for move in log.counting_moves]
    later += [(reading.string, reading.seq) for reading in log.counting_readings if reading.id not in own]
    return any(string in check.pair and seq > check.seq for string, seq in later)


DISAGREE_CENTS = 5.0
"""R118: a fifth heard together and the same two strings read alone may differ by so much, and the check's own ±."""


@dataclass(frozen=True)
class Disagreement:
    """A fifth that was heard wider (+) or narrower than its strings say, read alone just before; in cents."""

    pair: Pair
    cents: float

    @property
    def said(self) -> str:
        """For a person."""
        pair = "–".join(self.pair)
        return (
            f"{pair}: heard together and read alone they disagree by {abs(self.cents):.0f} cents. Bow them together once more,"
            " softly, before anything is turned."
        )


def disagreements(log: TuningLog, instrument: Instrument) -> tuple[Disagreement, ...]:
    """R118: the pairs of which a fifth heard together and both strings read alone say different things, with nothing turned in
    between. A second check that says the same as the first counts, and ends it.
    """
    tunings = []
    for pair, check in holding_checks(log, instrument).items():
        alone = [_read_alone(log, name, check) for name in pair]
        if check.from_pure_cents is None or None in alone or _is_confirmed(log, check):
            continue
        cents = check.from_pure_cents - fifth_between(*(hz for hz in alone if hz is not None)).from_pure_cents
        if abs(cents) > DISAGREE_CENTS + (check.plus_minus_cents or 0.0):
            tunings.append(Disagreement(pair, cents))
    return tuple(tunings)


def _read_alone(log: TuningLog, string: str, check: FifthCheck) -> float | None:
    """The pitch (Hz) of a string by its last reading alone before a check, where it wasn't turned since."""
    of_checks = {reading_id(check.id, side) for check in log.checks for side in SIDES}
    own = [reading for reading in log.counting_readings if reading.string == string and reading.seq < check.seq]
    last = next((reading for reading in reversed(own) if reading.id not in of_checks), None)
    if last is None or any(move.string == string and last.seq < move.seq < check.seq for move in log.counting_moves):
        return None
    return last.hz(log.tuning.a4)


def _is_confirmed(log: TuningLog, check: FifthCheck) -> bool:
    """Whether the check before of the same pair said the same, with neither string turned since."""
    before = last_before(log, check.pair, check.id)
    if before is None or before.from_pure_cents is None or check.from_pure_cents is None:
        return False
    turned = any(move.string in check.pair and before.seq < move.seq < check.seq for move in log.counting_moves)
    return not turned and abs(before.from_pure_cents - check.from_pure_cents) <= DISAGREE_CENTS


def last_before(log: TuningLog, pair: Pair, check_id: UUID) -> FifthCheck | None:
    """The last counting check of a pair before the one of that id (which may not be kept yet), whether it holds or not."""
    last = None
    for check in log.checks:
        if check.id == check_id:
            return last
        if check.counts and check.pair == pair:
            last = check
    return last
