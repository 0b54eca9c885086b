"""From four readings to the whole round: which string in which order, each move, and where all four stand after it.

The body gives: raising one string lowers the others a little. A plan doesn't chase that, it anticipates it: each string
is left where the moves still to come will pull it to its target. Rules R43 to R48.
"""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from pondus.core.figures import Cents
from pondus.core.instruments import Instrument
from pondus.core.instruments.mechanics import change_at_pitch
from pondus.core.instruments.targets import PURE_FIFTH_CENTS, TEMPERED_FIFTH_CENTS, offset_cents
from pondus.core.judgement import words
from pondus.core.judgement.advise import Advice, advise_of
from pondus.core.judgement.amounts import peg_moves_needed
from pondus.core.judgement.cautions import Caution
from pondus.core.judgement.coupling import Coupling, default_coupling
from pondus.core.judgement.heard import WAYS, Heard
from pondus.core.judgement.permitted import Wanted, permitted
from pondus.core.judgement.reading import ROUNDING_CENTS, State
from pondus.core.judgement.recent_move import RecentMove
from pondus.core.judgement.round import FAR_DOWN_STRINGS, MOST_ROUNDS, PlannedMove, Round, far_down, go_round, with_gains
from pondus.core.judgement.situation import Situation
from pondus.core.judgement.string_order import StringOrder, order_of

Refer = Literal["teacher", "luthier"]

SCREW_SECONDS, PEG_SECONDS, SWEEP_SECONDS = 15, 45, 25
PURE_WITHIN_CENTS = 1.5
"""R87: a string this near its pure place is right by ear."""


@dataclass(frozen=True)
class StringAsked:
    """One string of a plan: how it stands, and what was heard of it (None: not heard, or taken off). ``pulled_cents``: how far
    the others' turns have moved it since, as far as one knows.
    """

    situation: Situation
    heard: Heard | None
    sure: bool = False
    recent_move: RecentMove | None = None
    pulled_cents: float = 0.0

    @property
    def advice(self) -> Advice | None:
        """What is said of it; None where it is to be heard first."""
        facts = self.situation
        if self.heard is None and facts.string_state == "on" and facts.peg.state != "out":
            return None
        return advise_of(facts, self.heard, sure_of_string=self.sure, recent_move=self.recent_move)


@dataclass(frozen=True)
class StateNow:
    """Where a string stands now."""

    state: State
    cents_off: Cents | None


@dataclass(frozen=True)
class Plan:
    """The whole round. ``ask`` names strings to be heard (again) before anything is turned on them, ``off`` those that are
    broken or missing. ``offer_pure``: the four are a pure chain; nothing is turned, tuning pure is offered. ``peg_moves``: how
    many of ``total_moves`` are a peg's. ``pulls_to_come``: by how many cents all that is still to be turned on the others will
    pull each string.
    """

    strings: dict[str, StateNow]
    ask: tuple[str, ...]
    order: tuple[str, ...]
    rounds: int
    total_moves: int
    seconds: int
    refer: Refer | None
    moves: tuple[PlannedMove, ...]
    cautions: tuple[Caution, ...]
    why: str
    off: tuple[str, ...] = ()
    offer_pure: bool = False
    peg_moves: int = 0
    pulls_to_come: Mapping[str, float] = field(default_factory=dict)


def plan(
    strings: Mapping[str, StringAsked],
    *,
    instrument: Instrument,
    order: StringOrder = "A-outward",
    coupling: Coupling | None = None,
    may_be_pure: bool = True,
) -> Plan:
    """Plan the round. ``strings`` holds those that are on the instrument; others stand in ``ask``. ``may_be_pure``: whether
    someone may have tuned it by ear; what passes by a pure chain while it is being tuned is not left there.

    Raises BadInput for a reading or a move that can't be meant.
    """
    advices = {name: advice for name, string in strings.items() if (advice := string.advice) is not None}
    ask, refer, held = _held_back(instrument, advices)
    working = _begun(strings, advices, instrument, coupling or {}, ask, held)
    not_theirs = _not_theirs(working, instrument)
    if not_theirs:
        refer, working.held = refer or "teacher", held | not_theirs
    if refer == "teacher":
        working.cautions.append("adult")
    pulls_to_come = _pulls_to_come(working)
    pure = may_be_pure and refer is None and _is_pure(instrument, working)
    in_order = order_of(instrument, order)
    rounds = 0 if pure or refer_luthier_for_bridge(strings) else _gone_round(working, advices, in_order)
    moves = with_gains(working.moves)
    touched = tuple(dict.fromkeys(move.string for move in moves))
    given = {name: advices[name] for name in instrument.string_names if name in advices}
    counts = [_count(move) for move in moves]
    return Plan(
        strings={name: StateNow(advice.state, advice.cents_off) for name, advice in given.items()},
        ask=tuple(name for name in instrument.string_names if name in ask),
        order=touched,
        rounds=rounds,
        total_moves=sum(counts),
        seconds=_seconds(moves, counts, rounds),
        refer=refer,
        moves=moves,
        cautions=tuple(dict.fromkeys(working.cautions)),
        why=PURE_SAID if pure else _why(working, touched, ask, refer, rounds),
        off=tuple(name for name, advice in given.items() if advice.state in ("broken", "off")),
        offer_pure=pure,
        peg_moves=sum(count for move, count in zip(moves, counts, strict=True) if move.step.do == "turn-peg"),
        pulls_to_come={} if pure else pulls_to_come,
    )


def _gone_round(working: Round, advices: Mapping[str, Advice], in_order: tuple[str, ...]) -> int:
    _unknown(working, {name: advices[name] for name in in_order if name in advices})
    return go_round(working, in_order)


def _begun(
    strings: Mapping[str, StringAsked],
    advices: Mapping[str, Advice],
    instrument: Instrument,
    coupling: Coupling,
    ask: Collection[str],
    held: set[str],
) -> Round:
    """The round before its first move: where each string stands whose place is known."""
    known = {
        name: advice.cents_off + strings[name].pulled_cents
        for name, advice in advices.items()
        if name not in ask and advice.cents_off is not None
    }
    return Round(
        {name: strings[name].situation for name in known},
        known,
        {**default_coupling(instrument), **coupling},
        held,
        {name for name, advice in advices.items() if "octave-guess" in advice.cautions},
        {name: strings[name].recent_move for name in known},
        {name for name, advice in advices.items() if advice.state == "slack" and name in known},
    )


def _not_theirs(working: Round, instrument: Instrument) -> set[str]:
    """Of several strings that are far down together those whose pegs this person may not turn."""
    far = far_down(working, instrument.string_names)
    if len(far) < FAR_DOWN_STRINGS:
        return set()
    together = {name: replace(working.situations[name], far_down_together=True) for name in far}
    return {name for name, facts in together.items() if permitted(facts, Wanted("peg")).permission == "fetch"}


def _pulls_to_come(working: Round) -> dict[str, float]:
    """By how many cents all that is still to be turned on the others will pull each string."""
    turned = [name for name in working.cents if name not in working.held]
    return {
        name: round(working.still_to_come(name, tuple(other for other in turned if other != name)), 1) for name in working.cents
    }


PURE_SAID = (
    "These are pure fifths: right by ear, though a tuner shows them flat or sharp of equal temperament. Leave them, or tune"
    " pure from now on."
)


def refer_luthier_for_bridge(strings: Mapping[str, StringAsked]) -> Refer | None:
    """R86: a bridge that has moved or fallen stops everything."""
    return "luthier" if any(string.situation.bridge in ("moved", "fallen") for string in strings.values()) else None


def _is_pure(instrument: Instrument, working: "Round") -> bool:
    """R87: all four strings within 1.5 cents of pure, from an A in tune, and equal temperament is asked for."""
    if set(working.cents) != set(instrument.string_names):
        return False
    facts = working.situations["A"]
    if facts.fifth_cents != TEMPERED_FIFTH_CENTS or not working.in_tune("A", working.cents["A"]):
        return False
    a = working.cents["A"]
    return all(
        abs(working.cents[string.name] - a - offset_cents(string, fifth_cents=PURE_FIFTH_CENTS))
        <= PURE_WITHIN_CENTS + ROUNDING_CENTS
        for string in instrument.strings
    )


def _unknown(working: "Round", advices: Mapping[str, Advice]) -> None:
    """R80, R85: new strings, slack ones that give no pitch yet, and those of which only a side is known. What can be said of
    them comes first; where they stand nobody knows.
    """
    for name, advice in advices.items():
        if advice.cents_off is None and advice.state in ("slack", "broken", "off"):
            for step in advice.steps:
                if step.do in ("put-string-on", "turn-peg", "look-at-bridge"):
                    working.note(name, step)
            working.cautions.extend(advice.cautions)
        elif advice.side is not None and WAYS[advice.side] in ("flat", "sharp"):
            for step in (step for step in advice.steps if step.is_counted):
                working.note(name, step)
            working.cautions.extend(advice.cautions)


def _held_back(instrument: Instrument, advices: Mapping[str, Advice]) -> tuple[set[str], Refer | None, set[str]]:
    """R43: strings to ask about, whom to refer to, and strings nothing is turned on though they are known."""
    ask = {name for name in instrument.string_names if name not in advices}
    refer: Refer | None = None
    held: set[str] = set()
    for name, advice in advices.items():
        first = advice.steps[0].do if advice.steps else None
        if first == "luthier":
            refer, held = "luthier", held | {name}
        elif advice.state in ("unsure", "other-string", "no-effect", "wrong-way") and first != "fetch-teacher":
            ask.add(name)
        elif first == "fetch-teacher":
            refer, held = refer or "teacher", held | {name}
    return ask, refer, held


def _count(move: PlannedMove) -> int:
    """R47: how many turns (or tugs) one step of a plan takes: a peg's nudges each count."""
    step, facts = move.step, move.facts
    if not step.is_counted:
        return 0
    if step.do == "turn-peg" and facts is not None and step.aim_cents is not None:
        return peg_moves_needed(facts, change_at_pitch(move.before[move.string], step.aim_cents))
    if step.do == "set-fine-tuner-to-middle" and facts is not None and step.pitch == "raise" and step.expect_cents:
        whole = (step.aim_cents or 0.0) - move.before[move.string]
        return max(1, round(whole / step.expect_cents))
    return 1


def _seconds(moves: Sequence[PlannedMove], counts: Sequence[int], rounds: int) -> int:
    """R47: 15 s a screw move or a tug, 45 s a peg move, 25 s for each going over all four, first and last included."""
    seconds_of = [PEG_SECONDS if move.step.do == "turn-peg" else SCREW_SECONDS for move in moves]
    turned = sum(count * seconds for count, seconds in zip(counts, seconds_of, strict=True))
    return turned + SWEEP_SECONDS * (rounds + 1)


def _why(working: Round, order: tuple[str, ...], ask: set[str], refer: Refer | None, rounds: int) -> str:
    sentences = []
    if ask:
        sentences.append(f"Play {', '.join(sorted(ask))} (again) first: without a sure reading nothing is turned there.")
    if refer == "luthier":
        bridge = any(facts.bridge in ("moved", "fallen") for facts in working.situations.values())
        sentences.append(
            "The bridge doesn't stand as it should: turn nothing, it goes to the luthier."
            if bridge
            else "A peg that an adult can't move goes to the luthier."
        )
    if refer == "teacher":
        needs = "needs" if len(working.held) == 1 else "need"
        sentences.append(f"{', '.join(sorted(working.held))} {needs} a peg: take it to your teacher.")
    if not order:
        sentences.append("Nothing needs turning." if not sentences else "")
    else:
        left = "; each is left where the others' moves will pull it to its target" if working.cents else ""
        sentences.append(f"{', '.join(order)} in this order{left}.")
    new = [name for name in order if name in working.situations and working.situations[name].is_new]
    if new:
        is_new = f"The {' and the '.join(new)} {'is' if len(new) == 1 else 'are'} new"
        sentences.append(
            f"{is_new}: a new string stretches, so go over it several times today, and again before it is put away."
        )
    still_off = [
        f"{name} would still be {words.off(cents)}"
        for name, cents in working.cents.items()
        if rounds >= MOST_ROUNDS and not working.in_tune(name, cents) and name not in working.held
    ]
    if still_off:
        sentences.append(f"After three rounds {', '.join(still_off)}: stop then and look what is wrong.")
    return " ".join(sentence for sentence in sentences if sentence)
