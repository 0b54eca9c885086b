"""Answers that are kept for whoever asks next."""

import unittest
from dataclasses import replace
from datetime import date
from threading import Thread

from pydantic import BaseModel

from pondus.store.morning import MorningVersion
from pondus.web.app import WebConfig, create_app
from pondus.web.remembered import ASK_AGAIN, LAGS_SECONDS, WHILE_MADE_SECONDS, YOUNG_SECONDS, Remembered


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
        self, at: Remembered, of: MorningVersion, *, kind: str = "plan", for_seconds: float = 60.0, may_lag: bool = False
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


class TestMoreThreads(RememberedTest):
    def test_while_one_makes_it_an_older_one_serves_whoever_may_lag(self) -> None:
        own = Remembered()
        self.asked(own, version("a"))
        own.kept["plan"] = replace(own.kept["plan"], at=own.kept["plan"].at - LAGS_SECONDS)
        with own.making["plan"]:
            self.assertEqual(self.asked(own, version("b"), may_lag=True), (1, True))
            own.kept["plan"] = replace(own.kept["plan"], at=own.kept["plan"].at - WHILE_MADE_SECONDS)
            late = Thread(target=lambda: self.asked(own, version("b", people=2), may_lag=True))
            late.start()
            self.assertEqual(self.made, 1)
        late.join()
        self.assertEqual(self.made, 2)
