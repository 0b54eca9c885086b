"""A player who has nothing but the application: the bench and the fifths as their pages show them, through its own API.

What is shown is done, what was done is entered, questions are answered by looking. Beside `Follower`, who asks the core, this
one goes through entries, log, learning and what the bench says next.
"""

from collections.abc import Mapping
from datetime import date, timedelta
from typing import Any
from uuid import uuid4

from flask.testing import FlaskClient

from bench.players import (
    EASE_PAST_DEGREES,
    FIFTHS_CENTS,
    GOOD_CENTS,
    MOST_SWEEPS,
    PEG_SECONDS,
    SCREW_SECONDS,
    SWEEP_SECONDS,
    Player,
)
from bench.sounding import TUG_SECONDS, still_or_wrong, turned_until
from pondus.core.instruments.mechanics import Rate
from pondus.core.judgement.questions import PULL_FIRST
from pondus.core.judgement.situation import Turning
from pondus.core.pitch.notes import shift_hz
from pondus.core.simulated.hands import Hands
from pondus.core.simulated.turning import ease_bridge, tug, tug_down
from pondus.core.simulated.wood import Fitted, Wood
from pondus.core.views.bench_words import PLAY_FIRST

Json = dict[str, Any]
SIDE_WITHIN_CENTS = 2.0
"""A tuner without figures shows *in tune* this near."""
QUESTIONS_IN_A_ROW = 4
STOPPED_EARLY_SHARE = 0.5
"""Who stopped before so much of what was advised says how much it was; otherwise "I turned it" tells all."""
AT_END_TURNS = 0.05
SOUNDS_FROM_HZ, SLACK_DEGREES, SLACK_PUSHES = 22.0, 5.0, 20
"""Lower than that nobody hears a pitch: the string is floppy, and turned up so much at a time until it sounds."""


class ThroughApi(Player):
    """Sits down to one instrument and does what the pages say. ``figures``: the tuner shows figures; else only sides."""

    def __init__(
        self,
        wood: Wood,
        fitted: dict[str, Fitted],
        hands: Hands,
        *,
        client: FlaskClient,
        turning: Turning = "step-by-step",
        figures: bool = True,
    ) -> None:
        super().__init__(wood, fitted, hands)
        self.client, self.turning, self.figures = client, turning, figures
        self.moved: tuple[str, str | None] | None = None
        self.to_tug: set[str] = set()
        self.pulled: str | None = None
        self.stuck: str | None = None
        self.bench: Json = {}

    def tune(self) -> None:
        """Rounds, each begun by hearing all four; when nothing is left to do, the fifths."""
        self._sit_down()
        self._sweep()
        self.tally.predicted = 60 * self.bench["plan"]["minutes"]
        for _ in range(MOST_SWEEPS):
            if self.stopped or self.stuck:
                return
            if not self._round() and not self._mend_fifths():
                return
            self._sweep()
        self.tally.gave_up = not self.stopped

    @property
    def stopped(self) -> bool:
        if self.stuck is not None:
            self.tally.gave_up = True
        return super().stopped

    def _sit_down(self) -> None:
        instrument = str(uuid4())
        strings = {name: self._fittings(name) for name in self.names}
        self._post(
            "/api/instruments",
            {"id": instrument, "label": "Trial", "kind": self.wood.kind, "size": self.wood.size, "strings": strings},
        )
        self.bench = self._post(
            "/api/tunings",
            {
                "id": str(uuid4()),
                "instrument_id": instrument,
                "turning": self.turning,
                "tolerance_cents": GOOD_CENTS,
                "who": "teacher",
            },
        )
        self.at = f"/api/tunings/{self.bench['tuning']['id']}"

    def _fittings(self, name: str) -> Json:
        fitted, now = self.fitted[name], self.wood.now[name]
        told: Json = {"core": fitted.core, "has_fine_tuner": fitted.has_screw, "peg_kind": fitted.peg_kind}
        if fitted.has_screw:
            told |= {"screw_turns": now.screw_turns, "screw_reach_turns": fitted.reach_turns}
        if fitted.age_days is not None:
            told["put_on"] = (date.today() - timedelta(days=fitted.age_days)).isoformat()
        return told

    def _post(self, path: str, body: Json) -> Json:
        response = self.client.post(path, json=body)
        told: Json = response.get_json()
        assert response.status_code == 200, f"{path} {body}: {told}"
        return told

    def _string(self, name: str) -> Json:
        return next(each for each in self.bench["strings"] if each["name"] == name)

    def _sweep(self) -> None:
        if self.stopped:
            return
        self.tally.seconds += SWEEP_SECONDS
        for name in self.names:
            self._read(name)

    def _read(self, name: str) -> None:
        """Play a string and enter what the tuner shows, or that it is floppy."""
        if self.wood.hz(name) < SOUNDS_FROM_HZ:
            self._set_string(name, {"state": "floppy"})
            return
        off = self.hands.reading(self.wood, name)
        true = self.wood.true[name].target_hz
        heard: Json = {"hz": shift_hz(true, off)}
        if not self.figures and abs(off) < 50.0:
            side = "in-tune" if abs(off) <= SIDE_WITHIN_CENTS else "flat" if off < 0.0 else "sharp"
            heard = {"note": self._string(name)["target_note"], "side": side}
        self.bench = self._post(
            f"{self.at}/readings", {"id": str(uuid4()), "string": name, "heard": heard, "sure_of_string": True}
        )

    def _set_string(self, name: str, change: Json) -> None:
        path = f"/api/instruments/{self.bench['instrument']['id']}/strings/{name}"
        response = self.client.patch(path, json=change)
        assert response.status_code == 200, response.get_json()
        self.bench = self.client.get(self.at).get_json()

    def _take_up_slack(self, name: str, way: float) -> None:
        """Turned until it sounds; eyes see whether that winds the string on or off."""
        if self.wood.true[name].winding == "reversed":
            way = -abs(way)
        self.tally.spend(name, PEG_SECONDS)
        self.note_move(name, "peg", way)
        for _ in range(SLACK_PUSHES):
            if self.stopped or self.wood.hz(name) >= SOUNDS_FROM_HZ:
                break
            self.push(name, "peg", way * SLACK_DEGREES, meant=name)
        if not self.stopped:
            self._read(name)

    def _round(self) -> bool:
        """What the bench says next, until nothing is; whether anything was turned."""
        turned = False
        asked = 0
        while not self.stopped:
            name = self.bench["next_string"]
            loose = [each for each in self.to_tug if each != name or not self._turns_peg(name)]
            if loose:
                self._tug(loose[0])
                continue
            if name is None:
                return turned
            shown = self._string(name)
            step = next(iter(shown["advice"]["steps"]), None) if shown["advice"] is not None else None
            if step is None or shown["pending"] is not None:
                self._read(name)
                asked += 1
            elif step["do"] == "ask":
                self._answer(name, step)
                asked += 1
            elif any(said.startswith(PLAY_FIRST) for said in shown["cautions_said"]):
                self._read(name)
            elif step["do"].startswith("turn-") or step["do"] in ("set-fine-tuner-to-middle", "tug-down"):
                self._make(name, step)
                turned, asked = True, 0
            elif step["do"] in ("luthier", "fetch-teacher", "put-string-on"):
                self.stuck = step["say"]
            else:
                self._look(name, step)
                asked += 1
            if asked > QUESTIONS_IN_A_ROW * len(self.names):
                self.stuck = f"asked without end: {step and step['say']}"
        return turned

    def _turns_peg(self, name: str | None) -> bool:
        advice = None if name is None else self._string(name)["advice"]
        return bool(advice and advice["steps"] and advice["steps"][0]["do"] == "turn-peg")

    def _look(self, name: str, step: Json) -> None:
        if step["do"] == "look-at-bridge" and abs(self.wood.lean_degrees) > EASE_PAST_DEGREES:
            self.wood = ease_bridge(self.wood)
        self._read(name)

    def _make(self, name: str, step: Json) -> None:
        if step["do"] == "tug-down":
            self.wood = tug_down(self.wood, name)
            self.tally.moves += 1
            self.tally.spend(name, SCREW_SECONDS)
            self._enter_move(name, "tug", "lower", 1.0, step)
            return
        mechanism = "peg" if step["do"] == "turn-peg" else "fine-tuner"
        up = 1.0 if step["pitch"] == "raise" else -1.0
        # A hand follows the arrow: which way the string is wound the person doesn't know until Pondus has asked.
        wound = next(each for each in self.bench["instrument"]["strings"] if each["name"] == name)["winding"]
        hand = up * (-1.0 if mechanism == "peg" and wound == "reversed" else 1.0)
        amount = step["amount"]
        if amount is None:
            self._take_up_slack(name, hand)
            return
        if step["until"] is not None:
            amount = self._until(name, mechanism, hand, up, step)
        else:
            before = self.wood
            self.turn(name, mechanism, hand * amount)
            self.moved = (name, _whose(before, self.wood))
        if mechanism == "peg":
            self.to_tug.add(name)
        if amount > 0.0:
            self._enter_move(name, mechanism, step["pitch"], amount, step)
        elif not self.stopped:
            self._read(name)

    def _until(self, name: str, mechanism: str, hand: float, up: float, step: Json) -> float:
        shown = self._string(name)
        learned = shown["learned"]
        rate = (
            Rate(learned["peg_cents_per_degree"], learned["peg_plus_minus"])
            if mechanism == "peg"
            else Rate(learned["screw_cents_per_turn"], learned["screw_plus_minus"])
        )
        aim = shown["stop_at_cents"]
        stop = still_or_wrong(up, mechanism=mechanism, rate=rate, stop_at=aim)
        before = self.wood
        turned, _ = turned_until(self, name, mechanism, hand, stop=stop, aim=aim, limit=2.0 * step["amount"])
        self.moved = (name, _whose(before, self.wood))
        return turned

    def _enter_move(self, name: str, mechanism: str, pitch: str, amount: float, step: Json) -> None:
        if self.stopped:
            return
        as_advised = step["amount"] is None or amount >= STOPPED_EARLY_SHARE * step["amount"]
        self.bench = self._post(
            f"{self.at}/moves",
            {
                "id": str(uuid4()),
                "string": name,
                "mechanism": mechanism,
                "direction": pitch,
                "amount": round(amount, 4),
                "unit": step["unit"] or "turn",
                "expect_cents": step["expect_cents"] if as_advised else None,
                "expect_plus_minus": step["expect_plus_minus"] if as_advised else None,
            },
        )
        self._read(name)

    def _answer(self, name: str, step: Json) -> None:
        """What was it? This player looks: at the hand, at the peg, at how the string is wound."""
        answers = [option["answer"] for option in step["options"]]
        if step["question"] not in ("no-effect", "wrong-way"):
            self._read(name)
            return
        moved = self._string(name)["moved"]
        truth = self._truth(name, moved)
        if truth == "none" and PULL_FIRST in step["say"] and self.pulled != moved["id"]:
            self.pulled = moved["id"]
            self._tug(name)
            return
        answer = truth if truth in answers else "none" if "none" in answers else answers[0]
        self.bench = self._post(f"/api/moves/{moved['id']}/answer", {"answer": answer})
        if answer == "other-peg":
            self._sweep()

    def _truth(self, name: str, moved: Json) -> str:
        meant, whose = self.moved or (name, name)
        by_screw = moved["mechanism"] == "fine-tuner"
        if meant == name and whose in (None, name) and by_screw and self._is_at_end(name, moved["direction"]):
            return "end-or-loose"
        if meant == name and whose is None:
            return "not-turned" if by_screw else "sprang-back"
        if meant == name and whose != name:
            return "other-peg"
        told = next(each for each in self.bench["instrument"]["strings"] if each["name"] == name)["winding"]
        if not by_screw and told != self.wood.true[name].winding:
            return "wound-other-way"
        return "none" if by_screw or self.pulled != moved["id"] else "sprang-back"

    def _is_at_end(self, name: str, direction: str) -> bool:
        turns = self.wood.now[name].screw_turns
        return self.wood.true[name].reach_turns - (turns if direction == "raise" else -turns) < AT_END_TURNS

    def _tug(self, name: str) -> None:
        self.to_tug.discard(name)
        if self.turning == "while-sounding":
            self.tally.spend(name, TUG_SECONDS)
        self.wood = tug(self.wood, name)
        if not self.stopped:
            self._read(name)

    def _mend_fifths(self) -> bool:
        """The move that mends most, as the fifths' page has it; whether one was made."""
        fifths = self.client.get(f"{self.at}/fifths").get_json()
        mend = fifths["mend"]
        off = [abs(each["from_temperament_cents"] or 0.0) for each in fifths["links"]]
        step = None if mend is None else mend["step"]
        if step is None or max(off) <= FIFTHS_CENTS or (step["amount"] is None and step["do"] != "tug-down"):
            return False
        self._make(mend["string"], mend["step"])
        return True


def _whose(before: Wood, after: Wood) -> str | None:
    """Whose peg or screw was turned: the string that changed most; None: none did."""
    changes: Mapping[str, float] = {
        name: abs(after.now[name].tension - before.now[name].tension)
        + abs(after.now[name].screw_turns - before.now[name].screw_turns)
        for name in before.now
    }
    most = max(changes, key=lambda name: changes[name])
    return most if changes[most] > 1e-9 else None
