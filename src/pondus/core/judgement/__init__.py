"""Judgement: from a reading, an instrument and an approach to the next move.

Conventions: ``cents_off`` is the string's distance from its target, negative flat. Screw positions are turns from the
middle of the travel, positive screwed in (which raises). A *step* is what a person does; a *move* is a step that turns
something. Of the two errors, telling someone to raise a string that is already sharp is far worse than asking them to
play again, so every doubtful case ends in a question.

It may import `instruments` and `pitch`, and knows nothing of logs. Begin with `advise` for one string, `plan` for the round.
"""
