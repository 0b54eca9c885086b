"""The violin: G3 D4 A4 E5. Figures: see `base`."""

from pondus.core.instruments.base import Instrument, strings_of

VIOLIN = Instrument(
    kind="violin",
    strings=strings_of(("G3", 47, 3200), ("D4", 43, 3600), ("A4", 56, 5500), ("E5", 78, 10500)),
    lengths_mm={"4/4": 328, "3/4": 310, "1/2": 287, "1/4": 259, "1/8": 235, "1/10": 218, "1/16": 200},
    full_size="4/4",
    extra_length_mm=100,
    peg_radius_mm=3.9,
    stretch_per_turn_mm=0.20,
    size_aliases={},
    stances=("lap", "playing", "helper", "guitar"),
    usual_stance="lap",
    delicate_string="E",
)
