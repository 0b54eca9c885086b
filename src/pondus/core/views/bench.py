"""What the bench says of a tuning: headlines, words, the next string, where weights stand and will stand. Plain data.

Cents are off the string's own target, positive sharp. Nothing here is stored, and nothing here is left for the page to decide.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise
from typing import Literal
from uuid import UUID

from pondus.core.clock import Clock
from pondus.core.fifths import chain_words
from pondus.core.fifths.beats import FURTHEST_CHECKED_CENTS, fifth_between
from pondus.core.figures import Amount, Cents, Hz, Tenth
from pondus.core.hands.fifth_checks import disagreements
from pondus.core.hands.learned import LearnedRates, MoveLog, learned_coupling
from pondus.core.hands.records import FittedInstrument, Move, Reading, TuningLog
from pondus.core.hands.state import StringState, TuningNow, anticipating, denials, tuning_now
from pondus.core.instruments import Instrument, Roman, Side
from pondus.core.instruments.holds import HOLDS, SeenFrom, Stance
from pondus.core.instruments.targets import offset_cents
from pondus.core.judgement import words
from pondus.core.judgement.advise import Advice
from pondus.core.judgement.cautions import near_end
from pondus.core.judgement.direction import screw_turn
from pondus.core.judgement.few_words import later
from pondus.core.judgement.heard import BY_EAR, Heard
from pondus.core.judgement.plan import Plan, plan
from pondus.core.judgement.reading import tolerance_of
from pondus.core.judgement.recent_move import Answer, Turn, as_turn
from pondus.core.judgement.situation import FineTuner, PegKind
from pondus.core.judgement.steps import Option, Step
from pondus.core.judgement.string_order import order_of
from pondus.core.pitch.notes import Spelling, name_of, spelled
from pondus.core.views.bench_history import HistoryLine, history_of
from pondus.core.views.bench_words import headline, move_said, shown, taken_said, to_heed, word_beside
from pondus.core.views.where_next import before_any_turn, next_string, notice_of, string_after

GoesBy = Literal["tuner", "letters", "light", "ear"]
LETTERS = range(-7, 4)
"""The letters that a string is found at, in semitones from its own: from slack to where a string may soon snap."""


@dataclass(frozen=True)
class HoldView:
    """How the instrument is held, as far as pictures need it: the strings from this person's left to right, whether that is
    mirrored, and the side the pegbox is seen from.
    """

    stance: Stance
    said: str
    mirrored: bool
    seen_from: SeenFrom
    strings: tuple[str, ...]


@dataclass(frozen=True)
class ScrewView:
    """Where a screw stands, in turns from the middle (+ screwed in), how far it reaches either way, and how far either end is
    from the middle in that drawing. ``is_seen`` false: nobody has looked, and it is taken to be there.
    """

    turns_from_middle: Amount
    reach_turns: float
    near_end: bool
    is_seen: bool


@dataclass(frozen=True)
class ReadingView:
    """The last reading that counts, as shown and as heard."""

    id: UUID
    at: datetime
    shown: str
    source: str
    spread_cents: float | None
    sure_of_string: bool


@dataclass(frozen=True)
class MoveView(Turn):
    """A move as made and, once read again, what it did (cents). ``taken``: nobody told of it, a
    reading stands for it. ``denials``: what somebody may say against that, unasked.
    """

    id: UUID
    at: datetime
    did_cents: Cents | None
    said: str
    taken: bool
    denials: list[Option]


@dataclass(frozen=True)
class LearnedView:
    """What the log teaches of a string: cents per turn (screw) and per degree (peg), with their uncertainty and count."""

    screw_cents_per_turn: Tenth
    screw_plus_minus: Tenth
    screw_moves: int
    peg_cents_per_degree: Tenth
    peg_plus_minus: Tenth
    peg_moves: int


@dataclass(frozen=True)
class StringView:
    """One strand of the board. ``ghost_cents``: where the next move, or the one just made, should bring the weight.
    ``tolerance_cents``: how far off it is still well, either way; ``settles_from_cents`` to ``settles_to_cents``: what a
    tuner shows of the string's own note then; ``then``: the string after it once it is. ``stop_at_cents``: while it is
    turned as it sounds, the hand stops as soon as it is there or past it, coming from where it stands. ``letters``: what a
    tuner that shows letters may show of it, from slack to too high, its own among them; ``letter``: what it showed, where no
    more is known of how far off it is; ``cant_tell``: what to do if by ear no difference is heard. ``is_left``: nothing is to
    be done on it now; ``is_outdated``: it was turned, or pulled out of tune, since its figure was read.
    """

    name: str
    roman: Roman
    side: Side
    thickness: float
    target_note: str
    letters: list[str]
    letter: str | None
    cant_tell: str
    target_hz: Hz
    tuner_shows_cents: Cents
    fine_tuner: ScrewView | None
    peg_kind: PegKind
    reading: ReadingView | None
    advice: Advice | None
    headline: str
    later: list[str]
    cautions_said: list[str]
    words: str
    ghost_cents: Cents | None
    moved: MoveView | None
    pending: MoveView | None
    learned: LearnedView
    tolerance_cents: Cents
    settles_from_cents: Cents
    settles_to_cents: Cents
    then: str | None
    stop_at_cents: Cents | None
    is_left: bool
    is_outdated: bool


@dataclass(frozen=True)
class FifthView:
    """The span between two neighbours; figures are None until both strings are known, and where it is so far from pure that no
    fifth is to be heard.
    """

    lower: str
    upper: str
    interval_cents: Cents | None
    from_temperament_cents: Cents | None
    from_pure_cents: Cents | None
    beats_hz: Hz | None
    beats_said: str | None


@dataclass(frozen=True)
class PlanLineView:
    """One string of the rest of the round: its moves in short lines."""

    string: str
    lines: list[str]


@dataclass(frozen=True)
class PlanView:
    """The rest of the round, how many moves, how many minutes; strings still to hear."""

    ask: list[str]
    lines: list[PlanLineView]
    total_moves: int
    minutes: int
    refer: str | None
    why: str
    offer_pure: bool = False


@dataclass(frozen=True)
class BenchView:
    """Everything the bench says. ``last_heard``: per string, so that it can be said again, surer. ``notice``: what must
    be said at once, whichever string is looked at; ``look_at_screws``: the strings whose fine tuner is to be turned though
    nobody has looked where it stands. ``goes_by``: what the last figure, letter or side was that somebody entered by hand.
    """

    hold: HoldView
    strings: list[StringView]
    fifths: list[FifthView]
    history: list[HistoryLine]
    next_string: str | None
    last_heard: dict[str, Heard]
    notice: str | None
    plan: PlanView
    look_at_screws: list[str]
    goes_by: GoesBy | None


def bench_view(instrument: FittedInstrument, log: TuningLog, measured: MoveLog, *, clock: Clock) -> BenchView:
    """The bench of a tuning. ``measured``: what the instrument's whole log taught."""
    now = tuning_now(instrument, log, measured, clock=clock)
    return view_of(instrument, now, planned_round(instrument.facts, now, measured))


def view_of(instrument: FittedInstrument, now: TuningNow, round_left: Plan, *, pace: float = 1.0) -> BenchView:
    """As `bench_view`, where it is known already how the strings stand, and what is left of the round. ``pace``: how many times
    as long as usual this instrument takes.
    """
    log, states = now.log, shown_states(now.states, round_left)
    in_order = order_of(instrument.facts, log.tuning.order)
    planned = _plan(round_left, pace=pace)
    begins_with = [line.string for line in planned.lines]
    unheard = {state.string.name for state in states if state.reading is None and state.advice is None}
    begins_unheard = in_order[0] if in_order[0] in unheard else None
    goes_on_with = None if planned.offer_pure else next_string(states, in_order, begins_with)
    is_done = goes_on_with is None and all(state.is_in_tune for state in states)
    return BenchView(
        hold=hold_view(log.tuning.stance, instrument.facts),
        strings=[
            _string(
                state,
                leave=PURE_HEADLINE if planned.offer_pure else DONE_HEADLINE if is_done else None,
                then=string_after(state, states, in_order, begins_with),
                comes_again=state.string.name in begins_with,
                first=begins_unheard,
            )
            for state in states
        ],
        fifths=_fifths(states, log.tuning.fifth_cents),
        history=history_of(log),
        next_string=goes_on_with,
        last_heard={
            state.string.name: state.reading.as_shown or state.reading.heard for state in states if state.reading is not None
        },
        notice=notice_of(states, log)
        or next((disagreement.said for disagreement in disagreements(log, instrument.facts)), None)
        or before_any_turn(states, log, instrument.facts),
        look_at_screws=[state.string.name for state in states if _is_to_look_at(state)],
        plan=planned,
        goes_by=goes_by(log),
    )


def goes_by(log: TuningLog) -> GoesBy | None:
    """What whoever tunes goes by, where something was entered by hand: a device that comes to it later begins with that."""
    typed = [reading for reading in log.readings if reading.source == "typed" and not reading.voided]
    if not typed:
        return None
    heard = max(typed, key=lambda reading: reading.seq)
    shown = heard.as_shown or heard.heard
    if shown.has_figure:
        return "tuner"
    return "ear" if shown.side in BY_EAR else "letters" if shown.note is not None else "light"


def _is_to_look_at(state: StringState) -> bool:
    tuner, advice = state.situation.fine_tuner, state.advice
    if tuner is None or tuner.is_seen or advice is None:
        return False
    return any(step.do in ("turn-fine-tuner", "set-fine-tuner-to-middle") for step in advice.steps)


def shown_states(states: Sequence[StringState], round_left: Plan) -> list[StringState]:
    """The strings as the bench shows them: advised with the rest of the round in mind (R46)."""
    return [anticipating(state, round_left.pulls_to_come.get(state.string.name, 0.0)) for state in states]


def hold_view(stance: Stance, instrument: Instrument) -> HoldView:
    """How an instrument in a hold is seen.

    >>> from pondus.core.instruments import INSTRUMENTS
    >>> hold_view("seated", INSTRUMENTS["cello"]).strings
    ('A', 'D', 'G', 'C')
    """
    hold, names = HOLDS[stance], instrument.string_names
    return HoldView(stance, hold.said, hold.mirrored, hold.seen_from, names[::-1] if hold.mirrored else names)


PURE_HEADLINE = "Leave it: these are pure fifths"
DONE_HEADLINE = "Leave it: all its strings are in tune"


def expected_cents(state: StringState) -> float | None:
    """Where the next move, or the one just made, should bring the string; None where nothing can be expected."""
    advice = state.advice
    if advice is None or advice.cents_off is None:
        return None
    if state.pending is not None:
        expect = state.pending.expect_cents
        return None if expect is None else advice.cents_off + expect
    first = advice.steps[0] if advice.steps else None
    if first is None or not first.is_move or first.expect_cents is None:
        return None
    return advice.cents_off + first.expect_cents


def _letter(state: StringState) -> str | None:
    """What a tuner that shows letters showed, where that places the string: no figure stands for it."""
    heard = None if state.reading is None else state.reading.heard
    placed = state.advice is not None and state.advice.cents_off is not None
    if heard is None or heard.note is None or heard.has_figure or not placed:
        return None
    return spelled(heard.note, spelling=state.situation.spelling)


COMES_AGAIN = "It moves as the others are turned, and is brought in once they are."


def _string(state: StringState, *, leave: str | None, then: str | None, comes_again: bool, first: str | None) -> StringView:
    """``leave``: what is said where the whole instrument is left as it stands; ``comes_again``: it is turned in what is left of
    the round, whatever it reads now. ``first``: the string a round begins with, where nobody has heard it yet.
    """
    facts, advice = state.situation, state.advice
    turns = advice is not None and bool(advice.steps) and advice.steps[0].is_move
    begins = [f"A round begins with the {first}: play that one before this is turned."] if first and turns else []
    for_now = comes_again and leave is None and state.is_in_tune and not state.is_outdated
    shows, tolerance = offset_cents(state.string, fifth_cents=facts.fifth_cents), tolerance_of(facts)
    return StringView(
        name=state.string.name,
        roman=state.string.roman,
        side=state.string.side,
        thickness=state.string.thickness,
        target_note=name_of(state.string.note_number, spelling=facts.spelling),
        letter=_letter(state),
        cant_tell=words.cant_tell(facts, screw_turn("lower", stance=facts.stance)),
        letters=[words.letter_at(facts, 100.0 * by) for by in LETTERS],
        target_hz=facts.target_hz,
        tuner_shows_cents=shows,
        fine_tuner=None if facts.fine_tuner is None else _screw(facts.fine_tuner),
        peg_kind=facts.peg.kind,
        reading=None if state.reading is None else _reading(state.reading, facts.spelling),
        advice=advice,
        headline="Leave it for now" if for_now else leave or headline(state),
        later=[] if advice is None else later([step for step in advice.steps[1:] if step.do != "ask"]),
        cautions_said=[*begins, COMES_AGAIN, *to_heed(state)] if for_now else [*begins, *to_heed(state)],
        words="for now" if for_now else word_beside(state),
        ghost_cents=expected_cents(state),
        moved=None if state.moved is None else _move(state.moved, did=state.did_cents),
        pending=None if state.pending is None else _move(state.pending, did=None),
        learned=learned_view(state.learned),
        tolerance_cents=tolerance,
        settles_from_cents=shows - tolerance,
        settles_to_cents=shows + tolerance,
        then=then,
        stop_at_cents=stop_at(state),
        is_left=advice is not None and not advice.steps and not state.is_outdated,
        is_outdated=state.is_outdated,
    )


def _screw(tuner: FineTuner) -> ScrewView:
    place = tuner.turns_from_middle
    return ScrewView(place, tuner.reach_turns, near_end(tuner, place), tuner.is_seen)


STOP_BEFORE_CENTS = 1.0
"""A hand takes a moment to stop: it is told so a cent before the aim."""


def stop_at(state: StringState) -> float | None:
    """Where a hand that turns while the string sounds is told to stop, in cents off the target; None where none turns so.

    Raising stops at the aim from below, lowering from above, so whether it is there yet depends on the way it goes.
    """
    first = state.advice.steps[0] if state.advice is not None and state.advice.steps else None
    if state.pending is not None or first is None or first.until is None or first.aim_cents is None:
        return None
    return first.aim_cents + (-STOP_BEFORE_CENTS if first.pitch == "raise" else STOP_BEFORE_CENTS)


def learned_view(learned: LearnedRates) -> LearnedView:
    """What the log teaches of a string, flat."""
    screw, peg = learned.screw, learned.peg
    return LearnedView(screw.value, screw.plus_minus, screw.count, peg.value, peg.plus_minus, peg.count)


def planned_round(instrument: Instrument, now: TuningNow, measured: MoveLog) -> Plan:
    """The rest of the round; a string that was turned and not heard since must be heard first."""
    return plan(
        {state.string.name: state.asked() for state in now.states},
        instrument=instrument,
        order=now.log.tuning.order,
        coupling=learned_coupling(instrument, measured),
        may_be_pure=not now.log.counting_moves,
    )


def _plan(planned: Plan, *, pace: float) -> PlanView:
    by_string: dict[str, list[Step]] = {name: [] for name in planned.order}
    for move in planned.moves:
        by_string[move.string].append(move.step)
    return PlanView(
        ask=list(planned.ask),
        lines=[PlanLineView(name, later(steps)) for name, steps in by_string.items()],
        total_moves=planned.total_moves,
        minutes=max(1, round(planned.seconds * pace / 60.0)),
        refer=planned.refer,
        why=planned.why,
        offer_pure=planned.offer_pure,
    )


def _reading(reading: Reading, spelling: Spelling) -> ReadingView:
    return ReadingView(
        reading.id,
        reading.at,
        shown(reading.as_shown or reading.heard, spelling),
        reading.source,
        reading.spread_cents,
        reading.sure_of_string,
    )


def _move(move: Move, *, did: float | None) -> MoveView:
    return MoveView(
        move.id,
        move.at,
        did,
        taken_said(move, did) if move.taken else move_said(move),
        move.taken,
        [
            Option(denial, _DENIED[denial].format(way="down" if move.direction == "raise" else "up"), {"answer": denial})
            for denial in denials(move)
        ],
        **as_turn(move),
    )


_DENIED: dict[Answer, str] = {"not-turned": "No, it wasn’t", "wound-other-way": "It went {way} instead"}


def _fifths(states: Sequence[StringState], temperament_cents: float) -> list[FifthView]:
    spans = []
    for lower, upper in pairwise(states):
        low, high = lower.hz, upper.hz
        fifth = None if low is None or high is None else fifth_between(low, high)
        if fifth is not None and abs(fifth.from_pure_cents) > FURTHEST_CHECKED_CENTS:
            fifth = None
        spans.append(
            FifthView(
                lower=lower.string.name,
                upper=upper.string.name,
                interval_cents=None if fifth is None else fifth.interval_cents,
                from_temperament_cents=None if fifth is None else fifth.interval_cents - temperament_cents,
                from_pure_cents=None if fifth is None else fifth.from_pure_cents,
                beats_hz=None if fifth is None else fifth.beats_hz,
                beats_said=None if fifth is None else chain_words.beats(fifth.beats_hz),
            )
        )
    return spans
