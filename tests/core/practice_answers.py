"""Right answers to drills, for tests."""

from pondus.core.instruments import INSTRUMENTS
from pondus.core.pitch.notes import shift_hz
from pondus.core.practice.questions import Answer, Question, setup

KINDS = tuple(INSTRUMENTS)


def tuned(string: str | None, cents: float, kind: str = "violin") -> float:
    """A string so far from its pitch, in Hz; of whichever kind has it at that place."""
    assert string is not None
    return shift_hz(setup(kind).facts(string).target_hz, cents)


def right_answer(question: Question, kind: str = "violin") -> Answer:
    """An answer that is right, or for hands one that does nothing."""
    if question.task is not None:
        return Answer(actions=())
    if question.microphone is not None:
        return Answer(heard_hz=tuned(question.microphone, 1.0, kind), spread_cents=0.2)
    if not question.choices:
        return Answer(figure=question.beats)
    return Answer(choice=sorted(question.right)[0])
