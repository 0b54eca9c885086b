"""What can be wrong with what a person or a program asks of the core.

::

    PondusError
    ├── BadInput            a field holds something that can't be meant (HTTP 422, exit status 2)
    │   └── BadNote         a note name that isn't one
    └── UnreadableSound     a recording that can't be opened or decoded (HTTP 422, exit status 2)
        └── SoundTooLarge   a recording past the size Pondus listens to (HTTP 413, exit status 2)

A message names the value and a way out, in a sentence a teacher can use.
"""


class PondusError(Exception):
    """Root of the tree.

    >>> PondusError("tell me more").message
    'tell me more'
    """

    def __init__(self, message: str) -> None:
        super().__init__(message)
        self.message = message


class BadInput(PondusError):
    """A named field holds something that can't be meant; nothing was guessed and nothing was stored."""

    def __init__(self, field: str, message: str) -> None:
        super().__init__(message)
        self.field = field


class BadWord(BadInput):
    """A word that isn't among those that are known. ``word``: as it stands there; ``choices``: what there is."""

    def __init__(self, field: str, message: str, *, word: str, choices: tuple[str, ...]) -> None:
        super().__init__(field, message)
        self.word, self.choices = word, choices


class BadNote(BadInput):
    """A note name that isn't one."""


class UnreadableSound(PondusError):
    """A recording that can't be opened or decoded."""


class SoundTooLarge(UnreadableSound):
    """A recording past the size that Pondus listens to."""
