"""The cello: C2 G2 D3 A3. Figures: see `base`."""

from pondus.core.instruments.base import Instrument, strings_of

CELLO = Instrument(
    kind="cello",
    strings=strings_of(("C2", 132, 12000), ("G2", 134, 13000), ("D3", 140, 14000), ("A3", 165, 15500)),
    lengths_mm={"4/4": 690, "3/4": 640, "1/2": 585, "1/4": 515, "1/8": 445},
    full_size="4/4",
    extra_length_mm=195,
    peg_radius_mm=6.3,
    stretch_per_turn_mm=0.28,
    size_aliases={},
    stances=("lap", "seated", "turned"),
    usual_stance="turned",
)
