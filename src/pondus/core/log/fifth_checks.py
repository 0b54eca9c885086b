"""Which checks of fifths still hold: until either string is turned, or read alone."""

from collections.abc import Mapping
from itertools import pairwise
from uuid import UUID, uuid5

from pondus.core.instruments import Instrument
from pondus.core.log.records import FifthCheck, TuningLog

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


def last_before(log: TuningLog, pair: Pair, check_id: UUID) -> FifthCheck | None:
    """The last counting check of a pair before the one of that id (which may not be kept yet), whether it holds or not."""
    last = None
    for check in log.checks:
        if check.id == check_id:
            return last
        if check.counts and check.pair == pair:
            last = check
    return last
