"""The viola: C3 G3 D4 A4; sizes are the body in inches, and 4/4 is 16. Figures: see `base`."""

from pondus.core.instruments.base import Instrument, strings_of

VIOLA = Instrument(
    kind="viola",
    strings=strings_of(("C3", 52, 3600), ("G3", 50, 4000), ("D4", 54, 5000), ("A4", 76, 7500)),
    lengths_mm={"16.5": 385, "16": 375, "15.5": 365, "15": 355, "14": 335, "13": 313, "12": 290},
    full_size="16",
    extra_length_mm=115,
    peg_radius_mm=4.2,
    stretch_per_turn_mm=0.22,
    size_aliases={"4/4": "16"},
    stances=("lap", "playing", "helper", "guitar"),
    usual_stance="lap",
)
