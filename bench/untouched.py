"""Notes of a fifth source, on which nothing is set: a soundfont of free licence that Debian packages with an ear trainer.

Single violins, violas and cellos, most with vibrato; single plucks of guitars, a koto, a sitar, a harp. Look at its
figures last, once what they are to judge is finished; what then is changed because of them belongs to the other sources.
"""

import re
from collections.abc import Iterator
from pathlib import Path

from bench.soundfonts import OTHER_PLUCKED, Note, key_heard, raw_samples

SOUNDFONT = Path("/usr/share/minuet/soundfonts/GeneralUser-v1.47.sf2")
PACKAGES = {"minuet-data": SOUNDFONT}
SHORTEST_SECONDS = 0.7
_NAMED = re.compile(
    r"(Violin|Viola|Cello|Clean Guitar|Steel Guitar|Nylon Guitar|Koto|Sitar|Orchestral Harp|Pizz\. Strings)-[A-G]#?\d$"
)
_BOWED = {"Violin": "violin", "Viola": "viola", "Cello": "cello", "Pizz. Strings": "plucked section"}


def untouched_notes() -> Iterator[Note]:
    """All notes of strings that last long enough."""
    if not SOUNDFONT.exists():
        return
    for name, whole, rate, _, _ in raw_samples(SOUNDFONT):
        named = _NAMED.match(name)
        if named is not None and len(whole) > SHORTEST_SECONDS * rate:
            yield Note(name, _BOWED.get(named[1], OTHER_PLUCKED), key_heard(whole, rate), whole, rate)
