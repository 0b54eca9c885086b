"""Players who tell little, as `untold` tries them: who never press, whose tuner shows letters or lights, who go by ear,
who turn while a microphone listens, whose hand always does too much, who type in haste. All go through the
application.
"""

from collections import Counter
from collections.abc import Mapping
from datetime import UTC, datetime, timedelta
from typing import Any
from unittest import mock
from uuid import uuid4

import numpy as np

from bench.sounding import still_or_wrong, turned_until
from bench.through_api import SOUNDS_FROM_HZ, Json, ThroughApi
from pondus.core.instruments.mechanics import Rate
from pondus.core.pitch.notes import nearest_note, shift_hz
from pondus.core.simulated.hands import Hands
from pondus.core.simulated.wood import Fitted, Wood

LIGHT_WITHIN_CENTS = 3.0
OWN_NOTE_CENTS = 50.0
LOOK_SECONDS, SLOWEST, FASTEST = 0.5, 2.0, 25.0
REST_SECONDS = 3.0
EAR_CENTS, SAME_WITHIN_CENTS, MUCH_CENTS = 4.0, 8.0, (35.0, 90.0)
"""An ear that tells 8 cents apart: it calls the same what is within 8, each judgement off by 4 (standard deviation). Difference
limens of untrained ears for tones one after the other are 5 to 10 cents at these pitches (Moore, Introduction to the Psychology
of Hearing; Micheyl and others 2006). *Much* is from about half a semitone, by the person.
"""
TO_TONE = {"tone": 0.0, "just-under-tone": -15.0, "tone-from-below": -20.0}
STILL_PUSHES = {"peg": 4, "fine-tuner": 12}
SAYS_SECONDS = 1.0
"""A word, or a press, from one to the other."""
FURTHEST_DEGREES, FURTHEST_TURNS = 90.0, 6.0
NEARER_CENTS = 3.0
START = datetime(2026, 7, 4, 8, tzinfo=UTC)


HABITS = (0.5, 1.8)
MISTYPES, HEARS_TWICE, TURNS_TWO, FURTHEST_TYPED_CENTS = 0.08, 0.1, 0.2, 600.0


class Telling(ThroughApi):
    """Tells all, and is watched: entries, questions, the same advice again and again, where screws are taken to stand."""

    most_entries = 240

    def __init__(self, wood: Wood, fitted: dict[str, Fitted], hands: Hands, **more: Any) -> None:
        super().__init__(wood, fitted, hands, **more)
        self.entries = self.questions = self.false_questions = 0
        self.entries_of: Counter[str] = Counter()
        self.answers: dict[tuple[str, str], float] = {}
        self.run: dict[str, tuple[str, float, int]] = {}
        self.longest = 0

    def _post(self, path: str, body: Json) -> Json:
        if path.endswith(("/readings", "/moves")):
            self.entries += 1
            self.entries_of[str(body["string"])] += 1
        if self.entries > self.most_entries:
            self.stuck = "no end"
        return super()._post(path, body)

    def _answer(self, name: str, step: Json) -> None:
        if step["question"] in ("no-effect", "wrong-way"):
            self.questions += 1
            moved = self._string(name)["moved"]
            self.false_questions += self._truth(name, moved) in ("none", "moved")
        super()._answer(name, step)

    def _make(self, name: str, step: Json) -> None:
        off = abs(self.wood.cents_off(name))
        said, best, count = self.run.get(name, ("", 1e9, 0))
        same = step["say"] == said and off > best - NEARER_CENTS
        self.run[name] = (step["say"], min(off, best), count + 1 if same else 1)
        self.longest = max(self.longest, self.run[name][2])
        super()._make(name, step)

    def screw_errors(self) -> list[float]:
        """How far each screw is taken to stand from where it stands, in turns."""
        return [
            abs(string["fine_tuner"]["turns_from_middle"] - self.wood.now[string["name"]].screw_turns)
            for string in self.bench["strings"]
            if string["fine_tuner"] is not None
        ]


class Silent(Telling):
    """Turns and reads, and presses nothing; nobody looked at the screws, which stand near their middle."""

    def _fittings(self, name: str) -> Json:
        told = super()._fittings(name)
        return {key: value for key, value in told.items() if key != "screw_turns"}

    def _enter_move(self, name: str, mechanism: str, pitch: str, amount: float, step: Json) -> None:
        if not self.stopped:
            self._read(name)


class Blind(Silent):
    """Turns as far as is said without a look at the tuner on the way, by a hand that always does less or more than it means."""

    def __init__(self, wood: Wood, fitted: dict[str, Fitted], hands: Hands, **more: Any) -> None:
        super().__init__(wood, fitted, hands, **more)
        self.habit = float(np.exp(hands.rng.uniform(*np.log(HABITS))))

    def _until(self, name: str, mechanism: str, hand: float, up: float, step: Json) -> float:
        before = self.wood
        amount = float(step["amount"])
        self.turn(name, mechanism, hand * amount * self.habit)
        self.moved = (name, next((one for one in self.names if _moved(before, self.wood, one)), None))
        return amount


class Hasty(Silent):
    """Types fast: now and then a figure is wrong and at once right again, a string is heard twice with nothing turned between,
    one is turned after another before either is heard.
    """

    def __init__(self, wood: Wood, fitted: dict[str, Fitted], hands: Hands, **more: Any) -> None:
        super().__init__(wood, fitted, hands, **more)
        self.unread: list[str] = []

    def _read(self, name: str) -> None:
        chance = float(self.hands.rng.uniform())
        if chance < MISTYPES and self.wood.hz(name) >= SOUNDS_FROM_HZ:
            off = self.hands.reading(self.wood, name)
            wrong = float(self.hands.rng.choice([-off, 10.0 * off, off / 10.0]))
            if abs(wrong) < FURTHEST_TYPED_CENTS:
                self._type(name, wrong)
        super()._read(name)
        if MISTYPES <= chance < MISTYPES + HEARS_TWICE:
            super()._read(name)

    def _type(self, name: str, off: float) -> None:
        heard = {"hz": shift_hz(self.wood.true[name].target_hz, off)}
        told = {"id": str(uuid4()), "string": name, "heard": heard, "sure_of_string": True}
        self.bench = self._post(f"{self.at}/readings", told)

    def _enter_move(self, name: str, mechanism: str, pitch: str, amount: float, step: Json) -> None:
        if self.stopped:
            return
        others = [one for one in self.names if one != name and self._turns_screw(one)]
        if not self.unread and others and self.hands.rng.uniform() < TURNS_TWO:
            self.unread.append(name)
            self._make(others[0], self._string(others[0])["advice"]["steps"][0])
            self.unread.clear()
            if self.stopped:
                return
        self._read(name)

    def _turns_screw(self, name: str) -> bool:
        advice = self._string(name)["advice"]
        return bool(advice and advice["steps"] and advice["steps"][0]["do"] == "turn-fine-tuner")


class Letters(Silent):
    """A clip that shows a letter, without its octave, and left, middle or right of it."""

    def _read(self, name: str) -> None:
        if self.wood.hz(name) < SOUNDS_FROM_HZ:
            super()._read(name)
            return
        off = self.hands.reading(self.wood, name)
        heard = self._shown(name, off)
        self.bench = self._post(
            f"{self.at}/readings", {"id": str(uuid4()), "string": name, "heard": heard, "sure_of_string": True}
        )

    def _shown(self, name: str, off: float) -> Json:
        shown = nearest_note(shift_hz(self.wood.true[name].target_hz, off), a4=440.0)
        letter = shown.name.rstrip("0123456789")
        if abs(off) >= OWN_NOTE_CENTS:
            return {"note": letter, "side": _side(shown.cents)} if abs(shown.cents) > LIGHT_WITHIN_CENTS else {"note": letter}
        return {"note": letter, "side": _side(off)}

    def _answer(self, name: str, step: Json) -> None:
        if step["question"] == "which-octave":
            self._say_octave(name, step)
            return
        if step["question"] in ("which-string", "which-side"):
            self._say_string(name, step)
            return
        super()._answer(name, step)

    def _truth(self, name: str, moved: Json) -> str:
        truth = super()._truth(name, moved)
        answers = {one["answer"] for each in self._string(name)["advice"]["steps"] for one in each.get("options", [])}
        return "moved" if truth == "none" and "moved" in answers else truth

    def _look(self, name: str, step: Json) -> None:
        asked = next((one for one in self._string(name)["advice"]["steps"] if one["do"] == "ask"), None)
        if asked is None:
            super()._look(name, step)
        else:
            self._answer(name, asked)

    def _say_octave(self, name: str, step: Json) -> None:
        """By ear, against the tone that is asked about: lower, the same or higher."""
        off = self.wood.cents_off(name) - 1200.0 * (step["tone_octaves"] or 0)
        wanted = "same" if abs(off) < 50.0 and any(one["answer"] == "same" for one in step["options"]) else ""
        wanted = wanted or ("lower" if off < 0.0 else "higher")
        option = next((one for one in step["options"] if one["answer"] == wanted), step["options"][0])
        self._send(name, option)

    def _say_string(self, name: str, step: Json) -> None:
        option = next((one for one in step["options"] if one["answer"] not in ("other",)), step["options"][0])
        if step["question"] == "which-side":
            shown = nearest_note(self.wood.hz(name), a4=440.0)
            option = next(one for one in step["options"] if one["answer"] == _side(shown.cents))
        self._send(name, option)

    def _send(self, name: str, option: Json) -> None:
        last = self.bench["last_heard"][name]
        heard = option["set"].get("heard") or {key: value for key, value in last.items() if value is not None}
        told = {"id": str(uuid4()), "string": name, "heard": heard, "sure_of_string": True}
        self.bench = self._post(f"{self.at}/readings", told)


class Lights(Letters):
    """Left, middle, right, and nothing else."""

    def _shown(self, name: str, off: float) -> Json:
        return {"side": _side(off)}


class Microphone(Silent):
    """Turns while a microphone listens: a reading each half second on the way, at some speed."""

    most_entries = 1200

    def __init__(self, wood: Wood, fitted: dict[str, Fitted], hands: Hands, **more: Any) -> None:
        super().__init__(wood, fitted, hands, **more)
        self.clock = START
        self.speed = float(hands.rng.uniform(SLOWEST, FASTEST))

    def tune(self) -> None:
        with mock.patch("pondus.web.entries.now", lambda: self.clock):
            super().tune()

    def _read(self, name: str) -> None:
        self.clock += timedelta(seconds=REST_SECONDS)
        self._listen(name)

    def _listen(self, name: str) -> None:
        if self.wood.hz(name) < SOUNDS_FROM_HZ:
            super()._read(name)
            return
        heard = {"hz": shift_hz(self.wood.true[name].target_hz, self.hands.reading(self.wood, name))}
        told = {"id": str(uuid4()), "string": name, "heard": heard, "source": "microphone", "hands_free": True}
        self.bench = self._post(f"{self.at}/readings", {**told, "sure_of_string": True})

    def _until(self, name: str, mechanism: str, hand: float, up: float, step: Json) -> float:
        shown, true = self._string(name), self.wood.true[name]
        learned = shown["learned"]
        peg = mechanism == "peg"
        rate = (
            Rate(learned["peg_cents_per_degree"], learned["peg_plus_minus"])
            if peg
            else Rate(learned["screw_cents_per_turn"], learned["screw_plus_minus"])
        )
        aim = shown["stop_at_cents"]
        stop = still_or_wrong(up, mechanism=mechanism, rate=rate, stop_at=aim)
        real, turned, before = self.taken(name, mechanism), 0.0, self.wood
        a_unit = true.cents_per_degree if peg else (true.cents_per_turn or 1.0)
        while turned < 2.0 * step["amount"] and not self.stopped:
            now = self.hands.reading(self.wood, name)
            if stop(now):
                break
            speed = min(self.speed, max(2.0 * SLOWEST, abs(aim - now)))
            push = max(1.0 if peg else 1.0 / 64.0, speed * LOOK_SECONDS / a_unit)
            self.push(real, mechanism, hand * push, meant=name)
            turned += push
            self.clock += timedelta(seconds=LOOK_SECONDS)
            if not self.stopped:
                self._listen(name)
        self.note_move(name, mechanism, hand)
        self.tally.spend(name, 5.0 + LOOK_SECONDS * turned)
        self.moved = (name, next((one for one in self.names if _moved(before, self.wood, one)), None))
        return turned


def _moved(before: Wood, after: Wood, name: str) -> bool:
    return abs(before.now[name].tension - after.now[name].tension) > 0.02 * before.now[name].tension


def _side(off: float) -> str:
    return "in-tune" if abs(off) <= LIGHT_WITHIN_CENTS else "flat" if off < 0.0 else "sharp"


class Ear(Lights):
    """An ear beside a tone: it tells some 8 cents apart, *much* is from half a semitone or so on. A turn goes on until the two
    are one, to just under, or from below, as it is said.
    """

    most_entries = 240
    pushes_late: Mapping[str, int] = {"peg": 0, "fine-tuner": 0}

    def __init__(self, wood: Wood, fitted: dict[str, Fitted], hands: Hands, **more: Any) -> None:
        super().__init__(wood, fitted, hands, **more)
        self.much = float(hands.rng.uniform(*MUCH_CENTS))
        self.began: dict[str, float] = {}

    def _perceived(self, off: float) -> float:
        return off + float(self.hands.rng.normal(0.0, EAR_CENTS))

    def _shown(self, name: str, off: float) -> Json:
        off = self._perceived(off)
        if abs(off) <= SAME_WITHIN_CENTS:
            return {"side": "same"}
        word = "lower" if off < 0.0 else "higher"
        return {"side": word if abs(off) < self.much else f"much-{word}"}

    def _make(self, name: str, step: Json) -> None:
        self.began[name] = self.wood.cents_off(name)
        if step.get("ends") in TO_TONE:
            step = {**step, "until": {"note": "", "cents": 0.0}}
        super()._make(name, step)

    def _enter_move(self, name: str, mechanism: str, pitch: str, amount: float, step: Json) -> None:
        """Whoever hears the string go the other way while the peg turns says so."""
        super()._enter_move(name, mechanism, pitch, amount, step)
        if self.stopped:
            return
        went = (self.wood.cents_off(name) - self.began[name]) * (1.0 if pitch == "raise" else -1.0)
        moved = self._string(name)["moved"]
        said = [] if moved is None else [each["answer"] for each in moved["denials"]]
        if went < -2.0 * SAME_WITHIN_CENTS and "wound-other-way" in said:
            self.bench = self._post(f"/api/moves/{moved['id']}/answer", {"answer": "wound-other-way"})

    def _until(self, name: str, mechanism: str, hand: float, up: float, step: Json) -> float:
        if step["ends"] not in TO_TONE:
            return super()._until(name, mechanism, hand, up, step)
        aim = TO_TONE[step["ends"]]
        turned = self._by_ear(name, mechanism, hand, up, aim)
        if step["ends"] == "tone-from-below" and not self.stopped:
            self._by_ear(name, mechanism, -hand, -up, 0.0)
        return turned

    def _by_ear(self, name: str, mechanism: str, hand: float, up: float, aim: float) -> float:
        """Until it sounds as it should, or nothing has changed for some pushes, or the wrong way."""
        seen: list[float] = []
        pushes = STILL_PUSHES[mechanism]
        bias = float(self.hands.rng.normal(0.0, EAR_CENTS / 2.0))
        late = self.pushes_late[mechanism]

        def stop(now: float) -> bool:
            nonlocal late
            late -= there(now)
            return late < 0

        def there(now: float) -> bool:
            seen.append(now + bias + float(self.hands.rng.normal(0.0, EAR_CENTS / 2.0)))
            still = len(seen) > pushes and (seen[-1] - seen[-1 - pushes]) * up < EAR_CENTS
            return still or (seen[-1] - seen[0]) * up < -4.0 * EAR_CENTS or (seen[-1] - aim) * up >= 0.0

        limit = FURTHEST_DEGREES if mechanism == "peg" else FURTHEST_TURNS
        before = self.wood
        turned, _ = turned_until(self, name, mechanism, hand, stop=stop, aim=aim, limit=limit)
        self.moved = (name, next((one for one in self.names if _moved(before, self.wood, one)), None))
        return turned


class Two(Ear):
    """Two people: one plays, hears and says it, the other turns. A peg is pushed, then listened to: the word comes between. A
    screw goes on for one push until it has come.
    """

    pushes_late: Mapping[str, int] = {"peg": 0, "fine-tuner": 1}

    def _read(self, name: str) -> None:
        super()._read(name)
        self.tally.spend(name, SAYS_SECONDS)
