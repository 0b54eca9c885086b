"""Eight weeks of mornings at the camp: each instrument drifts on a simulated one, and is tuned as the advice has it."""

from dataclasses import dataclass, field, replace
from datetime import UTC, datetime, time, timedelta
from typing import Any
from uuid import UUID

import numpy as np

from pondus.core.instruments import instrument_named
from pondus.core.judgement.advise import advise
from pondus.core.judgement.heard import Heard
from pondus.core.judgement.situation import FineTuner, Peg, Situation, situation
from pondus.core.judgement.steps import Step
from pondus.core.judgement.string_order import order_of
from pondus.core.simulated.hands import Hands
from pondus.core.simulated.turning import put_right, tug
from pondus.core.simulated.weather import days_later, slipped
from pondus.core.simulated.wood import Fitted, Wood, made
from pondus.demo.camp import PURE, Loan, demo_id

DAYS = 56
SUNDAY = 6
FIRST_TUNED = time(8, 20)
GOES_WITHOUT = 0.22
"""Share of mornings on which an instrument isn't tuned."""
MOST_MOVES = 5
LOOSE_PEGS = frozenset({"Knot", "Turnstone"})


@dataclass
class Rows:
    """What goes into the database, by table."""

    tunings: list[dict[str, Any]] = field(default_factory=list)
    readings: list[dict[str, Any]] = field(default_factory=list)
    moves: list[dict[str, Any]] = field(default_factory=list)


@dataclass(frozen=True)
class NewString:
    """A string put on so many days ago."""

    name: str
    days_ago: int


def air_on(day: int) -> tuple[float, float]:
    """Humidity and temperature of the boathouse on a morning: damp by the sea, a dry fortnight with the stove on."""
    rng = np.random.default_rng([71, day])
    stove = 22 <= day < 36
    humidity = 68.0 + 7.0 * np.sin(day / 4.3) + float(rng.normal(0.0, 3.0)) - (38.0 if stove else 0.0)
    celsius = 17.0 + 2.5 * np.sin(day / 6.1) + float(rng.normal(0.0, 1.0)) + (4.0 if stove else 0.0)
    return round(float(min(88.0, max(24.0, humidity)))), round(float(celsius), 1)


def weeks_of(
    loan: Loan,
    place: int,
    *,
    today: datetime,
    changed: tuple[NewString, ...] = (),
    away: range = range(0),
    tuned_at: datetime | None = None,
) -> tuple[Rows, Wood]:
    """One instrument's mornings, and how it stands after the last night. ``away``: days it was at the luthier's.
    ``tuned_at``: when it was tuned today, if it was.
    """
    morning = _Mornings(loan, place, today)
    for day in range(DAYS):
        for string in changed:
            if DAYS - day == string.days_ago:
                morning.string_changed(string.name)
        date = today.date() - timedelta(days=DAYS - day)
        morning.night(day)
        if date.weekday() == SUNDAY or day in away or morning.rng.uniform() < GOES_WITHOUT:
            continue
        at = datetime.combine(date, FIRST_TUNED, tzinfo=UTC) + timedelta(seconds=100 * place)
        morning.tune(day, at)
    morning.night(DAYS)
    if tuned_at is not None:
        morning.tune(DAYS, tuned_at)
    return morning.rows, morning.wood


class _Mornings:
    """One instrument going through its mornings."""

    def __init__(self, loan: Loan, place: int, today: datetime) -> None:
        self.loan, self.place = loan, place
        self.rng = np.random.default_rng([3, place])
        self.hands = Hands(self.rng)
        self.rows = Rows()
        fitted = {name: _fitted(loan.fittings.get(name, {})) for name in instrument_named(loan.kind).string_names}
        self.wood = made(loan.kind, seed=place, size=loan.size, fitted=fitted)
        self.screws = {name: 0.0 for name, fittings in fitted.items() if fittings.has_screw}
        self.kind = instrument_named(loan.kind)

    def string_changed(self, name: str) -> None:
        fresh = self.wood.with_string(name, stretch_left_cents=float(self.rng.uniform(40.0, 90.0)))
        self.wood = slipped(fresh, name, float(-self.rng.uniform(30.0, 80.0)))

    def night(self, day: int) -> None:
        humidity, celsius = air_on(day)
        self.wood = days_later(replace(self.wood, step=self.wood.step + 1), 1.0, humidity=humidity, celsius=celsius)
        for name, string in self.wood.true.items():
            loose = self.loan.label in LOOSE_PEGS and name in ("G", "D")
            chance = (0.05 if humidity < 35.0 else 0.004) * (6.0 if loose else 1.0)
            if string.peg_kind == "friction" and self.rng.uniform() < chance:
                self.wood = slipped(self.wood, name, self.wood.cents_off(name) - float(self.rng.uniform(70.0, 220.0)))

    def tune(self, day: int, at: datetime) -> None:
        tuning = demo_id(f"{self.loan.label}:day {day}")
        staff = ("Maren", "Joost", "Wibke")[int(self.rng.choice(3, p=[0.5, 0.3, 0.2]))]
        self.rows.tunings.append(
            tuning_row(tuning, self.loan, at, who="teacher" if staff == "Maren" else "adult", by=demo_id(staff))
            | {"turning": "step-by-step"}
        )
        for name in order_of(self.kind, "A-outward"):
            at = self._tune_string(tuning, name, at)

    def _tune_string(self, tuning: UUID, name: str, at: datetime) -> datetime:
        hz = self._read(tuning, name, at)
        for _ in range(MOST_MOVES):
            told = advise(self._facts(name), Heard(hz=hz), sure_of_string=True)
            step = told.steps[0] if told.steps else None
            if step is None or told.state == "in-tune" or step.amount is None:
                return at + timedelta(seconds=float(self.rng.uniform(4.0, 8.0)))
            at += timedelta(
                seconds=float(self.rng.uniform(35.0, 55.0) if step.do == "turn-peg" else self.rng.uniform(11.0, 19.0))
            )
            self._move(tuning, name, step, at)
            at += timedelta(seconds=2)
            hz = self._read(tuning, name, at)
        return at + timedelta(seconds=5)

    def _facts(self, name: str) -> Situation:
        turns = self.screws.get(name)
        true = self.wood.true[name]
        reach = true.reach_turns
        tuner = None if turns is None else FineTuner(max(-reach, min(reach, turns)), reach)
        return situation(
            self.kind,
            name,
            size=self.loan.size,
            fine_tuner=tuner,
            peg=Peg(true.peg_kind, self.wood.peg_state(name), true.winding),
            fifth_cents=self.loan.fifth_cents or 700.0,
        )

    def _read(self, tuning: UUID, name: str, at: datetime) -> float:
        hz = self.wood.hz(name) * float(2.0 ** (self.rng.normal(0.0, 0.4) / 1200.0))
        self.rows.readings.append(
            {
                "id": demo_id(f"{tuning}:{name}:{at.isoformat()}"),
                "tuning_id": tuning,
                "string": name,
                "at": at,
                "hz": round(hz, 4),
                "spread_cents": round(abs(float(self.rng.normal(0.3, 0.2))), 2),
                "source": "simulated",
                "sure_of_string": False,
            }
        )
        return hz

    def _move(self, tuning: UUID, name: str, step: Step, at: datetime) -> None:
        sign = 1.0 if step.pitch == "raise" else -1.0
        amount = step.amount or 0.0
        if step.do == "turn-peg":
            way = -1.0 if self.wood.true[name].winding == "reversed" else 1.0
            self.wood = tug(self.hands.peg(self.wood, name, way * sign * amount), name)
        else:
            self.wood = self.hands.screw(self.wood, name, sign * amount)
            self.screws[name] += sign * amount
        if self.wood.bridge == "fallen" or not self.wood.sounds(name):
            self.wood = put_right(self.wood)
        self.rows.moves.append(
            {
                "id": demo_id(f"{tuning}:{name}:{at.isoformat()}:move"),
                "tuning_id": tuning,
                "string": name,
                "at": at,
                "mechanism": "peg" if step.do == "turn-peg" else "fine-tuner",
                "direction": step.pitch or "raise",
                "amount": amount,
                "unit": step.unit or "turn",
                "expect_cents": step.expect_cents,
                "expect_plus_minus": step.expect_plus_minus,
            }
        )


def tuning_row(tuning: UUID, loan: Loan, at: datetime, *, who: str, by: UUID | None) -> dict[str, Any]:
    """One tuning of a loan instrument."""
    return {
        "id": tuning,
        "instrument_id": demo_id(loan.label),
        "started_at": at,
        "a4": 440.0,
        "fifth_cents": PURE if loan.fifth_cents is not None else 700.0,
        "approach": "fine-tuner-first",
        "tolerance_cents": 3.0,
        "stance": "turned" if loan.kind == "cello" else "lap",
        "who": who,
        "spelling": "sharps",
        "order": "A-outward",
        "done_by": by,
    }


def _fitted(fittings: dict[str, Any]) -> Fitted:
    return Fitted(
        core=fittings.get("core", "steel"),
        has_screw=fittings.get("has_fine_tuner", True),
        peg_kind=fittings.get("peg_kind", "friction"),
        winding=fittings.get("winding", "normal"),
    )
