"""Erasing a person from the command line: shows every place that holds the name, asks, and does it."""

from collections.abc import Callable, Sequence
from uuid import UUID

from pondus.core.errors import BadInput
from pondus.running.database import studio_database
from pondus.store.database import engine_for, migrate, session_on
from pondus.store.persons_data import NamedPlace, erase, person_named, places_of


def erase_person(name: str, person: str, *, also: str | None, ask: Callable[[str], str] | None) -> str:
    """Erase someone from a studio; what was done, in words. ``ask`` puts a question to whoever sits there; None:
    nobody does, and only what is surely theirs goes, with the places ``also`` names (their numbers, or all).

    Raises BadInput, NotFound, CannotStart.
    """
    with studio_database(name) as database:
        migrate(database.url)
        engine = engine_for(database.url)
        with session_on(engine) as session:
            row = person_named(session, person)
            places = places_of(session, row.id)
            unsure = [place for place in places if not place.sure]
            if ask is not None:
                print(_listed(row.name, places))
                if unsure and also is None:
                    also = ask("Which of the numbered places mean them too? Numbers, all, or nothing")
                typed = ask(f"Erasing can't be undone. Type “{row.name}” to erase them for good")
            else:
                typed = row.name
            if not typed.strip():
                raise BadInput("person", "Nothing was erased.")
            return erase(session, row.id, name=typed, also=_chosen(unsure, also)).said


def _listed(name: str, places: Sequence[NamedPlace]) -> str:
    sure = [f"  {place.where}: {place.text}" for place in places if place.sure]
    unsure = [f"  {number}. {place.where}: {place.text}" for number, place in enumerate(_unsure(places), 1)]
    lines = [f"“{name}” stands in {len(sure)} places that are surely theirs:", *sure]
    return "\n".join([*lines, *(["and perhaps in:", *unsure] if unsure else [])])


def _unsure(places: Sequence[NamedPlace]) -> list[NamedPlace]:
    return [place for place in places if not place.sure]


def _chosen(unsure: Sequence[NamedPlace], also: str | None) -> set[tuple[str, UUID, str]]:
    """The unsure places that were named. Raises BadInput for a number there isn't."""
    text = (also or "").strip().casefold()
    if text in ("", "none"):
        return set()
    if text == "all":
        return {(place.table, place.id, place.field) for place in unsure}
    try:
        numbers = [int(word) for word in text.replace(",", " ").split()]
    except ValueError:
        raise BadInput("also", f"“{also}” names no places; give their numbers, or all.") from None
    wrong = next((number for number in numbers if not 1 <= number <= len(unsure)), None)
    if wrong is not None:
        raise BadInput("also", f"There is no place {wrong}; they go from 1 to {len(unsure)}.")
    return {(place.table, place.id, place.field) for place in (unsure[number - 1] for number in numbers)}
