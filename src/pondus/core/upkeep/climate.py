"""What can be said of a room's air."""

from pondus.core.errors import BadInput

COLDEST, WARMEST = -30.0, 55.0
COMFORTABLE_HUMIDITY = (40.0, 60.0)
"""Per cent that wood likes."""
DRY_BELOW, DAMP_ABOVE = 35.0, 65.0
"""Below pegs slip, above they stick."""


def air_said(humidity: float) -> str:
    """What a humidity means for pegs and wood, in a sentence.

    >>> air_said(30.0), air_said(50.0)
    ('Dry: expect pegs to slip; push them in while turning.', 'Comfortable for wood.')
    """
    if humidity < DRY_BELOW:
        return "Dry: expect pegs to slip; push them in while turning."
    if humidity > DAMP_ABOVE:
        return "Damp: expect pegs to stick; ease them out first, no force."
    low, high = COMFORTABLE_HUMIDITY
    return "Comfortable for wood." if low <= humidity <= high else "Just outside what wood likes."


def check_air(humidity: float | None, celsius: float | None) -> None:
    """Relative humidity in per cent, temperature in degrees Celsius; one of the two is enough. Raises BadInput.

    >>> check_air(55.0, None)
    >>> check_air(155.0, None)
    Traceback (most recent call last):
    ...
    pondus.core.errors.BadInput: 155 % humidity can't be right; give 0 to 100.
    """
    if humidity is None and celsius is None:
        raise BadInput("humidity", "Give the humidity in per cent, the temperature in degrees Celsius, or both.")
    if humidity is not None and not 0.0 <= humidity <= 100.0:
        raise BadInput("humidity", f"{humidity:g} % humidity can't be right; give 0 to 100.")
    if celsius is not None and not COLDEST <= celsius <= WARMEST:
        raise BadInput("celsius", f"{celsius:g} °C can't be the room; give {COLDEST:g} to {WARMEST:g}, in Celsius.")
