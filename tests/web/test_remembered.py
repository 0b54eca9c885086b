"""Answers that are kept for whoever asks next, and shared between a server's processes."""

import multiprocessing
import os
import signal
import unittest
from dataclasses import replace
from datetime import date
from threading import Event, Thread

from pydantic import BaseModel

from pondus.store.morning import MorningVersion
from pondus.web.app import WebConfig, create_app
from pondus.web.remembered import (
    ASK_AGAIN,
    LAGS_SECONDS,
    WHILE_MADE_SECONDS,
    YOUNG_SECONDS,
    Kept,
    Remembered,
    SharedMemory,
)


class Made(BaseModel):
    number: int


def version(logs: str, people: int = 1) -> MorningVersion:
    return MorningVersion(logs, (date(2026, 7, 6), people))


class RememberedTest(unittest.TestCase):
    def setUp(self) -> None:
        self.enterContext(create_app(WebConfig(database_url="postgresql://nobody@127.0.0.1:1/none")).app_context())
        self.made = 0

    def make(self) -> Made:
        self.made += 1
        return Made(number=self.made)

    def asked(
        self,
        at: Remembered,
        of: MorningVersion,
        *,
        kind: str = "plan",
        for_seconds: float = 60.0,
        may_lag: bool = False,
    ) -> tuple[int, bool]:
        """The number that is answered, and whether it is to be asked for again."""
        answer = at.answer(kind, lambda: of, self.make, for_seconds=for_seconds, may_lag=may_lag)
        return answer.get_json()["number"], ASK_AGAIN in answer.headers


class TestOneProcess(RememberedTest):
    def test_the_same_again_until_something_changed(self) -> None:
        own = Remembered()
        self.assertEqual([self.asked(own, version("a")) for _ in range(3)], [(1, False)] * 3)
        self.assertEqual(self.asked(own, version("b")), (2, False))
        self.assertEqual(self.asked(own, version("b"), for_seconds=0.0), (3, False), "it is too old")

    def older(self, own: Remembered, seconds: float) -> None:
        """Let what is kept be older than it is."""
        own.kept["plan"] = replace(own.kept["plan"], at=own.kept["plan"].at - seconds)

    def test_it_lags_behind_readings_only_and_says_so(self) -> None:
        own = Remembered()
        self.asked(own, version("a"))
        self.older(own, YOUNG_SECONDS)
        self.assertEqual(self.asked(own, version("b"), may_lag=True), (1, True))
        self.assertEqual(self.asked(own, version("a"), may_lag=True), (1, False))
        self.assertEqual(self.asked(own, version("b", people=2), may_lag=True), (2, False))
        self.older(own, LAGS_SECONDS)
        self.assertEqual(self.asked(own, version("c", people=2), may_lag=True), (3, False))

    def test_a_young_one_is_not_even_compared_where_it_may_lag(self) -> None:
        own = Remembered()
        self.asked(own, version("a"))
        answer = own.answer("plan", self.fail, self.make, for_seconds=60.0, may_lag=True)
        self.assertEqual((answer.get_json()["number"], ASK_AGAIN in answer.headers), (1, True))
        self.assertEqual(self.asked(own, version("b")), (2, False), "whoever may not lag is told what is")


class TestMoreProcesses(RememberedTest):
    def setUp(self) -> None:
        super().setUp()
        self.memory = SharedMemory()

    def test_one_makes_it_for_all(self) -> None:
        one, other = Remembered(self.memory), Remembered(self.memory)
        self.assertEqual(self.asked(one, version("a")), (1, False))
        self.assertEqual(self.asked(other, version("a")), (1, False))
        self.assertEqual(self.asked(other, version("b")), (2, False))
        self.assertEqual(self.asked(one, version("b")), (2, False))
        self.assertEqual(self.asked(other, version("b"), kind="morning"), (3, False), "each kind has its own")

    def test_another_process_finds_it(self) -> None:
        self.asked(Remembered(self.memory), version("a"))
        found = multiprocessing.get_context("fork").Queue()

        def ask() -> None:
            found.put(self.asked(Remembered(self.memory), version("a")))
            found.put(self.asked(Remembered(self.memory), version("b")))

        child = multiprocessing.get_context("fork").Process(target=ask)
        child.start()
        self.assertEqual([found.get(timeout=60) for _ in range(2)], [(1, False), (2, False)])
        child.join()
        self.assertEqual(self.asked(Remembered(self.memory), version("b")), (2, False))

    def test_one_that_dies_while_making_holds_nobody_up(self) -> None:
        begun = multiprocessing.get_context("fork").Event()

        def die() -> None:
            with self.memory.held(self.memory.place_of("plan")):
                begun.set()
                signal.pause()

        child = multiprocessing.get_context("fork").Process(target=die)
        child.start()
        self.assertTrue(begun.wait(60))
        answered = Event()
        waiting = Thread(target=lambda: (self.asked(Remembered(self.memory), version("a")), answered.set()))
        waiting.start()
        self.assertFalse(answered.is_set())
        assert child.pid is not None
        os.kill(child.pid, signal.SIGKILL)
        child.join()
        self.assertTrue(answered.wait(60))
        waiting.join()

    def test_while_another_makes_it_an_older_one_serves_whoever_may_lag(self) -> None:
        own, other = Remembered(self.memory), Remembered(self.memory)
        self.asked(own, version("a"))
        for each in (own, other):
            self.asked(each, version("a"))
            each.kept["plan"] = replace(each.kept["plan"], at=each.kept["plan"].at - LAGS_SECONDS)
        with self.memory.held(self.memory.place_of("plan")):
            self.assertEqual(self.asked(own, version("b"), may_lag=True), (1, True))
            with other.making["plan"]:
                self.assertEqual(self.asked(other, version("b"), may_lag=True), (1, True))
            own.kept["plan"] = replace(own.kept["plan"], at=own.kept["plan"].at - WHILE_MADE_SECONDS)
            late = Thread(target=lambda: self.asked(own, version("b", people=2), may_lag=True))
            late.start()
            self.assertEqual(self.made, 1)
        late.join()
        self.assertEqual(self.made, 2)

    def test_what_is_torn_too_large_or_anothers_is_made_anew(self) -> None:
        place = self.memory.place_of("plan")
        self.memory.write(place, "plan", Kept("a", "r", 0.0, b"{}"))
        self.assertIsNone(self.memory.read(place, "morning"))
        self.assertEqual(self.memory.read(place, "plan"), Kept("a", "r", 0.0, b"{}"))
        os.pwrite(self.memory._places[place], b"xx", 20)
        self.assertIsNone(self.memory.read(place, "plan"))
        too_large = Kept("a", "r", 0.0, b" " * self.memory.LARGEST_BYTES)
        self.memory.write(place, "plan", too_large)
        self.assertIsNone(self.memory.read(place, "plan"))
        self.assertEqual(self.asked(Remembered(self.memory), version("a")), (1, False))

    def test_two_that_hold_and_want_each_others_places_both_get_them(self) -> None:
        """One process holds the plan and another of its threads wants the morning; the other process the other way round."""
        fork = multiprocessing.get_context("fork")
        plan, morning = (self.memory.place_of(kind) for kind in ("plan", "morning"))
        self.assertNotEqual(plan, morning)
        holding, done = [fork.Event(), fork.Event()], fork.Queue()

        def work(number: int, mine: int, other: int) -> None:
            def want() -> None:
                holding[1 - number].wait(60)
                with self.memory.held(other):
                    done.put(number)

            second = Thread(target=want)
            with self.memory.held(mine):
                holding[number].set()
                second.start()
                holding[1 - number].wait(60)
                second.join(0.3)  # long enough that both wait for each other
            second.join()

        children = [fork.Process(target=work, args=each) for each in ((0, plan, morning), (1, morning, plan))]
        for each in children:
            each.start()
        self.assertEqual({done.get(timeout=60) for _ in children}, {0, 1})
        for each in children:
            each.join()
