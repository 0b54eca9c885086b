"""Paper: cards of many, wall charts, the morning's sheet, a ledger's page, a case's list, what is told of one instrument."""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from datetime import date
from typing import Literal
from uuid import UUID

from apiflask import APIBlueprint
from flask import Response
from pydantic import BaseModel
from sqlmodel import Session

from pondus.contracts.paper import CardsWanted, ToldOut
from pondus.core.clock import Clock
from pondus.core.errors import BadInput
from pondus.core.group.triage import GROUPS, Group
from pondus.core.in_order import as_looked_for
from pondus.core.instruments import Kind, instrument_named
from pondus.core.pitch.notes import Spelling
from pondus.core.upkeep.ledger import TuningInAir
from pondus.core.upkeep.studio import CaredFor
from pondus.core.views.paper import CaseString, StandsNow, Told, case_items, chart_strings, told_of
from pondus.paper import cards as card_paper
from pondus.paper import wall_chart
from pondus.paper.lists import Section, pages_of
from pondus.paper.sheet import Paper, pdf_of
from pondus.store import care as care_store
from pondus.store import instruments as instrument_store
from pondus.store import morning as morning_store
from pondus.store.ledger import ledger
from pondus.store.persons_data import without_people
from pondus.store.settings import read_all_settings, studio_clock, studio_values
from pondus.web.access import shown_name
from pondus.web.cards import card_of
from pondus.web.described import file_of
from pondus.web.file_names import shown_as
from pondus.web.stations import planned
from pondus.web.transaction import looking

blueprint = APIBlueprint("paper", __name__, tag="Paper")
MOST_CARDS = 600
LEDGER_TUNINGS, LEDGER_CARE = 24, 12
BRIDGE_SAID = {"stands": "It stands.", "leans": "It leans.", "moved": "It has moved.", "fallen": "It has fallen."}
SORTED_AS: dict[Group, str] = {
    "teacher-must": "Pegs, and whoever may turn them",
    "student-can": "Fine tuners",
    "not-heard": "Still to hear",
    "leave": "In tune",
    "luthier": "At the luthier’s, or on the way",
}
PDF = file_of("application/pdf", said="The sheet.")


class PaperQuery(BaseModel):
    """Which paper."""

    paper: Literal["a4", "letter"] = "a4"


class CardsQuery(PaperQuery):
    """How many on a page; which instruments (ids with commas between; left out: all in use)."""

    per_page: Literal["1", "4"] = "1"
    ids: str = ""


class ChartQuery(BaseModel):
    """Which kind of instrument, on which paper; ``spelling``: how its letters are written (left out: as the studio's)."""

    kind: Kind = "violin"
    paper: Paper = "a4"
    spelling: Spelling | None = None


def _sent(content: bytes, name: str, mimetype: str = "application/pdf") -> Response:
    return Response(content, mimetype=mimetype, headers=shown_as(name))


def said_day(day: date) -> str:
    """A day, as it is written on paper.

    >>> said_day(date(2026, 7, 5))
    '5 July 2026'
    """
    return f"{day.day} {day:%B %Y}"


@blueprint.get("/cards.pdf")
@blueprint.input(CardsQuery, location="query", arg_name="query")
@blueprint.doc(description="Cards of all instruments, or of a choice, one or four a page.", responses=PDF)
def cards(query: CardsQuery) -> Response:
    """Cards of many in one file. Raises BadInput or NotFound."""
    try:
        wanted = [UUID(key.strip()) for key in query.ids.split(",")] if query.ids.strip() else []
    except ValueError:
        raise BadInput("ids", "Which instruments? Give their ids with commas between, or leave ids out for all.") from None
    return _cards(wanted, paper=query.paper, per_page=int(query.per_page))


@blueprint.post("/cards.pdf")
@blueprint.input(CardsWanted, arg_name="wanted")
@blueprint.doc(description="Cards of a choice that is too long for an address.", responses=PDF)
def cards_wanted(wanted: CardsWanted) -> Response:
    """Cards of many in one file; writes nothing. Raises BadInput or NotFound."""
    return _cards(wanted.ids, paper=wanted.paper, per_page=int(wanted.per_page))


def _cards(wanted: Sequence[UUID], *, paper: Literal["a4", "letter"], per_page: int) -> Response:
    """Cards of these instruments; of all in use, where none is named."""
    with looking() as session:
        records = (
            [instrument_store.instrument(session, instrument_id) for instrument_id in wanted]
            if wanted
            else instrument_store.instruments(session)
        )
        if len(records) > MOST_CARDS:
            raise BadInput("ids", f"{len(records)} cards are too many for one file; choose at most {MOST_CARDS}.")
        read_all_settings(session)
        today = studio_clock(session).today
        drawn = [card_of(session, record, today=today) for record in records]
    if not drawn:
        raise BadInput("ids", "No instrument is in use yet; add one to the roll, then print its card.")
    return _sent(card_paper.drawn(drawn, form="pdf", paper=paper, per_page=per_page), "Cards.pdf")


@blueprint.get("/wall-chart.<any(svg, pdf):form>")
@blueprint.input(ChartQuery, location="query", arg_name="query")
@blueprint.doc(
    description="Letters around each string and what they mean.",
    responses=file_of("image/svg+xml", "application/pdf", said="The chart."),
)
def chart(form: Literal["svg", "pdf"], query: ChartQuery) -> Response:
    """A chart for the wall, at the studio's reference. Raises BadInput."""
    with looking() as session:
        set_to = studio_values(session)
    a4, spelling = set_to.get("a4", 440.0), query.spelling or set_to.get("spelling", "sharps")
    instrument = instrument_named(query.kind)
    strings = chart_strings(instrument, a4=a4, spelling=spelling)
    content = wall_chart.drawn(instrument, strings, a4=a4, form=form, paper=query.paper)
    return _sent(content, f"{query.kind} chart.{form}", "image/svg+xml" if form == "svg" else "application/pdf")


@blueprint.get("/morning/sheet.pdf")
@blueprint.input(PaperQuery, location="query", arg_name="query")
@blueprint.doc(description="Who does which instrument in which order, and every instrument sorted.", responses=PDF)
def morning_sheet(query: PaperQuery) -> Response:
    """The morning's sheet, to be carried around. Raises BadInput or NotFound."""
    with looking() as session:
        clock = studio_clock(session)
        plan = planned(session, clock)
        triaged = morning_store.triaged(session, clock=clock)
    sections = [
        Section(
            f"{station.name}",
            [(slot.label, slot.said, f"{max(1, round(slot.ends - slot.starts))} min", "") for slot in station.slots],
            (2.2, 3.2, 0.9, 1.6),
            ("instrument", "what it needs", "about", "done, notes"),
            boxes=True,
            empty="Nothing just now.",
        )
        for station in plan.stations
    ]
    sections += _sorted_sections(triaged)
    at = clock.now.astimezone(clock.zone)
    ends = _ends_said(plan.ends, sum(job.sorted.waits for job in triaged))
    pages = pages_of(f"Morning, {said_day(clock.today)}", f"As it stood at {at:%H:%M}; {ends}.", sections, paper=query.paper)
    return _sent(pdf_of(pages), f"Morning {clock.today.isoformat()}.pdf")


def _sorted_sections(triaged: Iterable[morning_store.Triaged]) -> Iterable[Section]:
    for group in GROUPS:
        found = [job for job in triaged if job.sorted.group == group]
        lines = [
            (line.label, f"{line.kind} {line.size}", line.sorted.said, "" if line.player is None else shown_name(line.player))
            for line in sorted(found, key=lambda job: as_looked_for(job.label))
        ]
        if lines:
            yield Section(f"{SORTED_AS[group]}, {len(lines)}", lines, (2.0, 1.5, 3.0, 1.3), boxes=True)


def _ends_said(minutes: float, waiting: int) -> str:
    if minutes > 0:
        return f"done in about {max(1, round(minutes))} minutes from then"
    if waiting == 0:
        return "nothing is left to turn"
    some = "1 instrument still wants" if waiting == 1 else f"{waiting} instruments still want"
    return f"{some} hands, and nobody who is there has a turn"


@blueprint.get("/instruments/<uuid:instrument_id>/ledger-page.pdf")
@blueprint.input(PaperQuery, location="query", arg_name="query")
@blueprint.doc(description="Strings, the last tunings and care of one instrument.", responses=PDF)
def ledger_page(instrument_id: UUID, query: PaperQuery) -> Response:
    """A page of an instrument's ledger. Raises BadInput or NotFound."""
    with looking() as session:
        clock = studio_clock(session)
        found = ledger(session, instrument_id, clock=clock)
        cared = care_store.studio_care(session, clock=clock, only=found.record)[0]
    row = found.record.instrument
    strings = [
        (
            string.fitted.name,
            "not known" if string.fitted.put_on is None else said_day(string.fitted.put_on),
            _due(cared, string.fitted.name),
            f"flat {string.flat_times} of {len(string.found_cents)}",
        )
        for string in found.strings
    ]
    names = instrument_named(row.kind).string_names
    tunings = [_tuning_line(tuning, names, clock) for tuning in reversed(found.tunings[-LEDGER_TUNINGS:])]
    sections = [
        Section("Strings", strings, (0.6, 1.6, 1.8, 2.0), ("string", "on since", "to be replaced", "as found")),
        Section("Pegs and fine tuners", _parts(found.record), (0.6, 2.4, 2.6), ("string", "peg", "fine tuner")),
        Section("Bridge", [(BRIDGE_SAID[row.bridge],)]),
        Section(
            "Tunings, the newest first",
            tunings,
            (1.6, 4.2, 0.7, 0.8),
            ("day", "as found, in cents from its place", "turns", "air"),
            empty="None yet.",
        ),
        Section("Care", _care_lines(cared, clock), (1.5, 4.5), empty="Nothing was entered."),
    ]
    beneath = f"{row.kind} {row.size}; printed {said_day(clock.today)}."
    return _sent(pdf_of(pages_of(f"{row.label}: ledger", beneath, sections, paper=query.paper)), f"{row.label} ledger.pdf")


def _tuning_line(tuning: TuningInAir, names: Sequence[str], clock: Clock) -> tuple[str, ...]:
    own = tuning.summary.strings
    return (
        said_day(clock.day_of(tuning.summary.started_at)),
        "  ".join(f"{name} {_off(own[name].found_cents)}" for name in names if name in own),
        f"{tuning.summary.screw_moves + tuning.summary.peg_moves}",
        "" if tuning.humidity is None else f"{tuning.humidity:g} %",
    )


@blueprint.get("/care/shopping.pdf")
@blueprint.input(PaperQuery, location="query", arg_name="query")
@blueprint.doc(description="The strings to buy, with boxes to tick.", responses=PDF)
def shopping_pdf(query: PaperQuery) -> Response:
    """What to buy, to be taken to a shop. Raises BadInput or NotFound."""
    with looking() as session:
        clock = studio_clock(session)
        wanted = care_store.wanted_strings(care_store.studio_care(session, clock=clock), clock)
    lines = [
        (f"{string.count} × {string.string}", f"{string.kind} {string.size}, {string.core}", ", ".join(string.labels))
        for string in wanted
    ]
    section = Section(
        "Strings", lines, (0.8, 1.8, 3.4), ("how many", "of what", "for"), boxes=True, empty="Nothing is due soon."
    )
    pages = pages_of("Strings to buy", said_day(clock.today), [section], paper=query.paper)
    return _sent(pdf_of(pages), f"Strings to buy {clock.today.isoformat()}.pdf")


def _parts(record: instrument_store.InstrumentRecord) -> list[tuple[str, str, str]]:
    """Each string's peg and fine tuner, as far as they are known."""
    by_name = {string.name: string for string in record.strings}
    lines = []
    for name in instrument_named(record.instrument.kind).string_names:
        string = by_name.get(name)
        if string is None:
            lines.append((name, "the string is off", ""))
            continue
        peg = "geared" if string.peg_kind == "geared" else "wood, turned by friction"
        peg += "" if string.peg_state == "ok" else f", {string.peg_state}"
        peg += ", wound the other way" if string.winding == "reversed" else ""
        turns = (
            f"{string.screw_turns:+.1f} turns from its middle when it was looked at" if string.screw_seen else "not looked at"
        )
        lines.append((name, peg, turns.replace("-", "−") if string.has_fine_tuner else "none"))
    return lines


def _due(cared: CaredFor, name: str) -> str:
    due = cared.due[name]
    return due.why if due.due is None else f"{said_day(due.due)}"


def _off(cents: float | None) -> str:
    if cents is None:
        return "?"
    return f"{cents:+.0f}".replace("-", "−") if abs(cents) >= 0.5 else "0"


def _care_lines(cared: CaredFor, clock: Clock) -> list[tuple[str, str]]:
    standing = [entry for entry in cared.entries if not entry.voided]
    return [
        (said_day(clock.day_of(care_kept.at)), f"{care_kept.headline}{f': {care_kept.said}' if care_kept.said else ''}")
        for care_kept in standing[:LEDGER_CARE]
    ]


@blueprint.get("/instruments/<uuid:instrument_id>/case-list.pdf")
@blueprint.input(PaperQuery, location="query", arg_name="query")
@blueprint.doc(description="What belongs in this instrument's case.", responses=PDF)
def case_list(instrument_id: UUID, query: PaperQuery) -> Response:
    """A list to tick off, from what is known of the instrument. Raises BadInput or NotFound."""
    with looking() as session:
        clock = studio_clock(session)
        record = instrument_store.instrument(session, instrument_id)
        cared = care_store.studio_care(session, clock=clock, only=record)[0]
    row = record.instrument
    instrument = instrument_named(row.kind)
    by_name = {string.name: string for string in record.strings}
    strings = [
        CaseString(name, by_name[name].core, by_name[name].has_fine_tuner, by_name[name].peg_kind, cared.due[name].due)
        for name in instrument.string_names
        if name in by_name
    ]
    faults = {referral.symptom for referral in cared.referrals} | {watched_symptom.symptom for watched_symptom in cared.watched}
    items = case_items(instrument, row.size, strings, faults=faults, today=clock.today)
    section = Section("In the case", [(item.said, item.why) for item in items], (2.4, 2.0), boxes=True)
    pages = pages_of(f"{row.label}: case", f"{row.kind} {row.size}, {said_day(clock.today)}", [section], paper=query.paper)
    return _sent(pdf_of(pages), f"{row.label} case.pdf")


def _told(session: Session, instrument_id: UUID, clock: Clock) -> tuple[instrument_store.InstrumentRecord, Told, date | None]:
    found = ledger(session, instrument_id, clock=clock)
    record = found.record
    cared = care_store.studio_care(session, clock=clock, only=record)[0]
    plain = [replace(entry, said=without_people(session, entry.said)) for entry in cared.entries]
    last = found.tunings[-1].summary if found.tunings else None
    fitted = {string.name: string for string in record.strings}
    strings = [
        StandsNow(
            name,
            last.strings[name].left_cents if last is not None and name in last.strings else None,
            fitted[name].state,
            fitted[name].peg_state,
        )
        for name in instrument_named(record.instrument.kind).string_names
        if name in fitted
    ]
    told = told_of(replace(cared, entries=tuple(plain)), strings, today=clock.today, zone_day=clock.day_of, say_day=said_day)
    return record, told, None if last is None else clock.day_of(last.started_at)


@blueprint.get("/instruments/<uuid:instrument_id>/told.json")
@blueprint.output(ToldOut)
def told_json(instrument_id: UUID) -> ToldOut:
    """How one instrument stands, for a parent or a luthier: nothing of anyone's in it. Raises BadInput or NotFound."""
    with looking() as session:
        record, told, day = _told(session, instrument_id, studio_clock(session))
        label = without_people(session, record.instrument.label)
    row = record.instrument
    return ToldOut(
        label=label,
        kind=row.kind,
        size=row.size,
        last_tuned=day,
        strings=list(told.strings),
        wrong=list(told.wrong),
        tried=list(told.tried),
        ask=list(told.ask),
    )


@blueprint.get("/instruments/<uuid:instrument_id>/told.pdf")
@blueprint.input(PaperQuery, location="query", arg_name="query")
@blueprint.doc(description="How one instrument stands, for a parent or a luthier.", responses=PDF)
def told_pdf(instrument_id: UUID, query: PaperQuery) -> Response:
    """What is wrong, since when, what was tried, what to ask for. Raises BadInput or NotFound."""
    with looking() as session:
        clock = studio_clock(session)
        record, told, day = _told(session, instrument_id, clock)
        label = without_people(session, record.instrument.label)
    row = record.instrument
    stood = "Never tuned with Pondus" if day is None else f"Strings as left on {said_day(day)}"
    sections = [
        Section("What is wrong", _single(told.wrong), empty="Nothing that is known."),
        Section("What to ask for", _single(told.ask), empty="Nothing: it can be played."),
        Section("What was done", _single(told.tried), empty="Nothing was entered."),
        Section(stood, _single(told.strings)),
    ]
    pages = pages_of(label, f"{row.kind} {row.size}, {said_day(clock.today)}", sections, paper=query.paper)
    return _sent(pdf_of(pages), f"{label}.pdf")


def _single(lines: Iterable[str]) -> list[tuple[str]]:
    return [(line,) for line in lines]
