"""Where to go on at the bench: the next string, the one after it, and what must be said at once, whichever is looked at."""

from collections.abc import Sequence

from pondus.core.hands.records import TuningLog
from pondus.core.hands.state import StringState
from pondus.core.hands.together import all_alike, another_instrument
from pondus.core.instruments import Instrument
from pondus.core.judgement.reading import judge
from pondus.core.pitch.notes import cents_between


def next_string(states: Sequence[StringState], in_order: Sequence[str], plan_begins_with: Sequence[str]) -> str | None:
    """Where to go on: what waits to be heard, then what waits to be answered, then where the plan begins; None where all is in
    tune. Until all were heard, what is to be heard again waits for that.
    """
    by_name = {state.string.name: state for state in states}
    pending = [name for name in in_order if name in by_name and by_name[name].pending is not None]
    open_now = sorted(
        (name for name in in_order if name in by_name and _wants_something(by_name[name])),
        key=lambda name: (_is_left(by_name[name]), by_name[name].to_hear_again),
    )
    asking = [name for name in open_now if _asks(by_name[name])]
    first = [name for name in plan_begins_with if name in open_now and not _is_left(by_name[name])]
    heard = all(by_name[name].reading is not None or by_name[name].advice is not None for name in open_now)
    return next(iter([*pending, *asking, *(first if heard else []), *open_now]), None)


def string_after(
    state: StringState, states: Sequence[StringState], in_order: Sequence[str], plan_begins_with: Sequence[str]
) -> str | None:
    """The string after this one, once this one is well."""
    return next_string([other for other in states if other is not state], in_order, plan_begins_with)


def _wants_something(state: StringState) -> bool:
    if state.advice is None or state.is_outdated:
        return True
    as_near = state.situation.as_near_as_it_gets and not state.advice.steps
    return state.advice.state != "in-tune" and not as_near


def _is_left(state: StringState) -> bool:
    """Left for what is still to be turned on the others (R46): it comes last."""
    return state.advice is not None and not state.advice.steps and not state.to_hear_again


def _asks(state: StringState) -> bool:
    advice = state.advice
    return advice is not None and (advice.question is not None or advice.state == "unsure")


OTHER_MOVED_CENTS = 30.0


def before_any_turn(states: Sequence[StringState], log: TuningLog, instrument: Instrument) -> str | None:
    """R123: what all strings say together, while nothing has been turned."""
    if log.counting_moves:
        return None
    off = {
        state.string.name: judged.cents_off
        for state in states
        if state.reading is not None and state.reading.heard.has_figure
        for judged in [judge(state.situation, state.reading.heard, sure=True, recent=None)]
        if judged.cents_off is not None and judged.octave_known
    }
    how = log.tuning
    other = another_instrument(instrument, off, a4=how.a4, fifth_cents=how.fifth_cents)
    return other or all_alike(off, a4=how.a4, strings=len(instrument.strings))


def notice_of(states: Sequence[StringState], log: TuningLog) -> str | None:
    """R25: another string moved by more than 30 cents while this one was turned: that is the peg in hand."""
    moves = log.counting_moves
    if not moves:
        return None
    last = moves[-1]
    for state in states:
        if state.string.name == last.string or state.reading is None or state.reading.seq < last.seq:
            continue
        own = [reading for reading in log.counting_readings if reading.string == state.string.name]
        before = next((reading for reading in reversed(own) if reading.seq < last.seq), None)
        if before is None or any(move.string == state.string.name and move.seq > before.seq for move in moves):
            continue
        then, here = before.hz(log.tuning.a4), state.reading.hz(log.tuning.a4)
        moved = None if then is None or here is None else cents_between(here, then)
        if moved is not None and abs(moved) > OTHER_MOVED_CENTS:
            way = "up" if moved > 0 else "down"
            return (
                f"The {state.string.name} string went {way} by {abs(moved):.0f} cents when the {last.string} was turned: most"
                f" likely it was the {state.string.name} {'peg' if last.mechanism == 'peg' else 'fine tuner'} that was in hand."
            )
    return None
