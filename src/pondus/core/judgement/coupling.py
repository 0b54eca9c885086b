"""What the body gives: a string that goes up lets the others down a little, by a share of its change (R48's first figures)."""

from collections.abc import Mapping

from pondus.core.instruments import Instrument

Coupling = Mapping[str, Mapping[str, float]]
"""By the string that is moved, then by the other: cents of the other per cent of the moved one."""
NEIGHBOUR_COUPLING, FURTHER_COUPLING = -0.03, -0.015


def default_coupling(instrument: Instrument) -> dict[str, dict[str, float]]:
    """What a string's rise does to the others before anything is learned: a share of its change, negative."""
    names = instrument.string_names
    return {
        moved: {
            other: NEIGHBOUR_COUPLING if abs(names.index(moved) - names.index(other)) == 1 else FURTHER_COUPLING
            for other in names
            if other != moved
        }
        for moved in names
    }
