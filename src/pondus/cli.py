"""The one command. `bin/pondus` installs what is missing and hands over to this."""

import os
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from pondus import __version__
from pondus.core.errors import BadInput, PondusError

if TYPE_CHECKING:
    from pondus.batches import Unreadable
    from pondus.contracts.fifth import FifthResult
    from pondus.contracts.hearing import HearingResult
    from pondus.lists.columns import ListKind
    from pondus.running.sharing import ShareOptions

app = typer.Typer(
    name="pondus",
    help="Tuning student violins, violas and cellos: which string, which peg or fine tuner, which way, how much.",
    no_args_is_help=True,
    add_completion=False,
    pretty_exceptions_enable=False,
)
UNUSABLE, REFUSED = 3, 2
OWN_FILES_ALONE = 0o077
"""What is written (backups, exports, logs) is readable to this user alone."""


def _say_version(asked: bool) -> None:
    if asked:
        typer.echo(f"Pondus {__version__}")
        raise typer.Exit


@app.callback()
def _before(
    version: Annotated[
        bool, typer.Option("--version", help="Which Pondus this is.", callback=_say_version, is_eager=True)
    ] = False,
) -> None:
    os.umask(OWN_FILES_ALONE)


@contextmanager
def _in_words() -> Iterator[None]:
    """A domain error becomes one line on stderr and exit status 2."""
    try:
        yield
    except PondusError as error:
        typer.echo(error.message, err=True)
        raise typer.Exit(REFUSED) from None


Port = Annotated[int, typer.Option(help="Port on 127.0.0.1.", min=1, max=65535)]
Share = Annotated[bool, typer.Option("--share", help="Let tablets and phones of this network in, by HTTPS; they sign in.")]
SharePort = Annotated[int, typer.Option(help="Port for the other devices.", min=1, max=65535)]
ShareOn = Annotated[str | None, typer.Option("--on", help="Share on this one address of the computer only.")]
Cert = Annotated[Path | None, typer.Option(help="A certificate of your own (PEM), in place of Pondus's.")]
Key = Annotated[Path | None, typer.Option(help="Its key (PEM).")]
CertName = Annotated[str | None, typer.Option("--name", help="The name in that certificate.")]


@app.command()
def demo(
    port: Port = 8088,
    share: Share = False,
    share_port: SharePort = 8444,
    on: ShareOn = None,
    cert: Cert = None,
    key: Key = None,
    name: CertName = None,
) -> None:
    """Run Pondus with the demo studio, made-up instruments of a summer camp."""
    from pondus.demo.studio import fill_own
    from pondus.running.studio import run_studio

    with _in_words():
        run_studio("demo", port, fill=fill_own, share=_share(share, share_port, on, cert, key, name))


@app.command()
def start(
    port: Port = 8087,
    share: Share = False,
    share_port: SharePort = 8443,
    on: ShareOn = None,
    cert: Cert = None,
    key: Key = None,
    name: CertName = None,
) -> None:
    """Run Pondus with the studio's own data."""
    from pondus.running.studio import run_studio

    with _in_words():
        run_studio("studio", port, share=_share(share, share_port, on, cert, key, name))


def _share(
    share: bool, port: int, on: str | None, cert: Path | None, key: Path | None, name: str | None
) -> "ShareOptions | None":
    from pondus.running.sharing import ShareOptions

    if not share:
        told = next((option for option, value in (("--on", on), ("--cert", cert), ("--key", key)) if value), None)
        if told is not None:
            raise BadInput(told, f"{told} is for sharing: add --share.")
        return None
    return ShareOptions(port, on, cert, key, name)


@app.command()
def serve(
    port: Annotated[int, typer.Option(help="Port to listen on.", min=1, max=65535)] = 8087,
    on: Annotated[str, typer.Option(help="Address to listen on.")] = "127.0.0.1",
    name: Annotated[list[str] | None, typer.Option(help="A name people open it under; may be given again.")] = None,
    behind_proxy: Annotated[
        list[str] | None, typer.Option(help="Address of a reverse proxy whose word is taken; may be given again.")
    ] = None,
) -> None:
    """Run one server of several, behind a proxy that speaks HTTPS, on the database that DATABASE_URL names."""
    from pondus.running.server import Bind
    from pondus.running.studio import serve as run_serve

    with _in_words():
        run_serve(Bind(port, on), names=name or (), proxies=behind_proxy or ())


@app.command()
def passphrase(
    name: Annotated[str | None, typer.Option(help="The teacher's name; asked for if left out.")] = None,
    studio: Annotated[str, typer.Option(help="Which studio: studio, or demo.")] = "studio",
) -> None:
    """Set a teacher's passphrase, new or forgotten. Every device has to sign in again."""
    from pondus.running.keys import set_passphrase

    with _in_words():
        typer.echo(set_passphrase(_studio(studio), name))


@app.command()
def advise(as_json: Annotated[bool, typer.Option("--json", help="Print JSON.")] = False) -> None:
    """Read one request (JSON) from standard input and print the next move."""
    from pondus.contracts.advice import AdviceRequest
    from pondus.contracts.base import ResultOf
    from pondus.core.judgement.advise import Advice

    with _in_words():
        advice = AdviceRequest.model_validate_json(sys.stdin.buffer.read()).advise()
    if as_json:
        typer.echo(ResultOf[Advice](advice).model_dump_json())
        return
    for step in advice.steps:
        typer.echo(step.say)
    typer.echo(advice.why)


@app.command()
def plan(as_json: Annotated[bool, typer.Option("--json", help="Print JSON.")] = False) -> None:
    """Read one request (JSON) with four readings from standard input and print the whole round."""
    from pondus.contracts.plan import PlanRequest

    with _in_words():
        planned = PlanRequest.model_validate_json(sys.stdin.buffer.read()).plan()
    if as_json:
        typer.echo(planned.model_dump_json())
        return
    for move in planned.moves:
        typer.echo(move.step.say)
    typer.echo(f"{planned.total_moves} moves, about {planned.seconds // 60 + 1} minutes. {planned.why}")


@app.command()
def hear(
    file: Annotated[Path | None, typer.Argument(help="A WAV, FLAC or OGG recording of one string.")] = None,
    instrument: Annotated[str | None, typer.Option(help="violin, viola or cello.")] = None,
    string: Annotated[str | None, typer.Option(help="The string, if known; else it is found.")] = None,
    a4: Annotated[float, typer.Option(help="The reference in Hz.")] = 440.0,
    batch: Annotated[Path | None, typer.Option(help="A JSON list of recordings, each with its instrument.")] = None,
    as_json: Annotated[bool, typer.Option("--json", help="Print JSON, one object a line.")] = False,
) -> None:
    """Hear one string in a recording, or a whole list of them. Exit status 3 where there is no steady pitch."""
    from pondus import batches

    with _in_words():
        if batch is not None:
            if file is not None or instrument is not None or string is not None:
                raise BadInput("batch", "With --batch the list names files, instruments and strings; leave them out here.")
            if not all([_print_heard(result, as_json) for result in batches.hear_batch(batch, a4=a4)]):
                raise typer.Exit(REFUSED)
            return
        if file is None or instrument is None:
            raise BadInput("file", "Name a recording and --instrument violin, viola or cello; or a list with --batch.")
        result = batches.hear_file(file, name=str(file), instrument=instrument, string=string, a4=a4)
    _print_heard(result, as_json)
    if not result.usable:
        raise typer.Exit(UNUSABLE)


@app.command()
def fifth(
    file: Annotated[Path, typer.Argument(help="A WAV, FLAC or OGG recording of two strings sounding together.")],
    instrument: Annotated[str, typer.Option(help="violin, viola or cello.")],
    strings: Annotated[str, typer.Option(help="The two neighbours, lower first, as in D,A.")],
    a4: Annotated[float, typer.Option(help="The reference in Hz.")] = 440.0,
    as_json: Annotated[bool, typer.Option("--json", help="Print JSON.")] = False,
) -> None:
    """Hear a double stop: both pitches, the fifth against pure, its beats. Exit status 3 where there is none."""
    from pondus import batches
    from pondus.contracts.fifth import pair_of

    with _in_words():
        pair = pair_of(strings)
        result = batches.hear_fifth_file(file, name=str(file), instrument=instrument, strings=pair, a4=a4)
    _print_heard(result, as_json)
    if not result.usable:
        raise typer.Exit(UNUSABLE)


def _print_heard(result: "HearingResult | FifthResult | Unreadable", as_json: bool) -> bool:
    """One line for one recording; whether it could be read."""
    from pondus.batches import Unreadable

    readable = not isinstance(result, Unreadable)
    if isinstance(result, Unreadable):
        typer.echo(f"{result.file}: {result.message}", err=True)
        result = result.as_result()
    if as_json:
        typer.echo(result.model_dump_json())
    elif readable:
        typer.echo(f"{result.file}: {_in_a_line(result)}.")
    return readable


def _in_a_line(result: "HearingResult | FifthResult") -> str:
    from pondus.contracts.hearing import HearingResult
    from pondus.core.hearing.double_stop import FIFTH_REFUSED_SAID

    if isinstance(result, HearingResult):
        if not result.usable:
            return f"no steady pitch: {result.reason}"
        off = f"{result.string} string {result.string_cents:+.1f}"
        return f"{result.note} {result.cents:+.1f} cents ({result.hz:.2f} Hz), {off}"
    if result.reason is not None:
        return f"no fifth: {FIFTH_REFUSED_SAID[result.reason]}"
    way = "wider" if (result.from_pure_cents or 0.0) > 0 else "narrower"
    return (
        f"{result.lower_hz:.2f} and {result.upper_hz:.2f} Hz, {abs(result.from_pure_cents or 0.0):.1f} cents {way} than"
        f" pure, {result.beats_hz:.2f} beats a second"
    )


@app.command()
def simulate(
    file: Annotated[Path, typer.Argument(help="The WAV, FLAC or OGG file to write.")],
    instrument: Annotated[str, typer.Option(help="violin, viola or cello.")],
    strings: Annotated[str, typer.Option(help="One string, or two neighbours together, as in D,A.")],
    how: Annotated[str, typer.Option(help="bow or pluck.")] = "bow",
    cents: Annotated[
        str | None, typer.Option(help="How far each string is off, as in -12 or -12,3. Left out: as --start has it.")
    ] = None,
    start: Annotated[
        str,
        typer.Option(
            help="in-tune, or a state to begin in: morning, one-far-off, screw-at-end, all-slack, new-strings, sharp."
        ),
    ] = "in-tune",
    size: Annotated[str | None, typer.Option(help="The size, as in 3/4 or 15.")] = None,
    seed: Annotated[int, typer.Option(help="Which instrument of its kind; the same seed gives the same sound.")] = 1,
    seconds: Annotated[float, typer.Option(help="How long.")] = 2.0,
    rate: Annotated[int, typer.Option(help="Samples per second.")] = 44_100,
    noise_db: Annotated[float, typer.Option(help="Room noise, dB under the strings.")] = 42.0,
    hum_db: Annotated[float, typer.Option(help="Mains hum, dB under the strings.")] = 55.0,
) -> None:
    """Write what a simulated instrument sounds like: one string or a double stop, bowed or plucked, in a room.

    For instance: pondus simulate da.wav --instrument cello --strings D,A --cents -8,2 --how bow
    """
    from pondus.recordings import write_simulated

    with _in_words():
        names = tuple(string.strip() for string in strings.split(","))
        write_simulated(
            file, kind=instrument, names=names, how=how, cents=cents, start=start, size=size, seed=seed,
            seconds=seconds, rate_hz=rate, noise_db=noise_db, hum_db=hum_db,
        )  # fmt: skip
    typer.echo(f"{file}: {instrument}, {' and '.join(names)}, {seconds:g} s.")


Studio = Annotated[str, typer.Option(help="Which studio: studio, or demo. DATABASE_URL, where set, is used instead.")]
ListOption = Annotated[str | None, typer.Option("--list", help="roll, people, readings, moves, room or care: one list as CSV.")]


def _list_kind(kind: str | None) -> "ListKind | None":
    from typing import get_args

    from pondus.lists.columns import ListKind

    found = next((list_kind for list_kind in get_args(ListKind) if list_kind == kind), None)
    if kind is not None and found is None:
        raise BadInput("list", f"There is no list “{kind}”; choose from {', '.join(get_args(ListKind))}.")
    return found


@app.command()
def export(
    file: Annotated[Path, typer.Argument(help="The file to write.")],
    kind: ListOption = None,
    person: Annotated[str | None, typer.Option(help="All about one person (a name, or an id), as JSON.")] = None,
    studio: Studio = "studio",
) -> None:
    """Save the whole studio as JSON; or one list of it as CSV, with --list; or all about one person, with --person."""
    from pondus.running.backup import export_person, export_studio

    with _in_words():
        if person is not None:
            if kind is not None:
                raise BadInput("list", "Either a list or a person: leave one of --list and --person out.")
            export_person(_studio(studio), file, person)
        else:
            export_studio(_studio(studio), file, _list_kind(kind))
    typer.echo(f"{file} is written.")


@app.command(name="import")
def import_(
    file: Annotated[Path, typer.Argument(help="A studio's JSON, or a CSV list.")],
    kind: ListOption = None,
    leave_out_bad: Annotated[bool, typer.Option(help="Store the good rows of a list with bad ones.")] = False,
    update: Annotated[bool, typer.Option(help="Let a list of the roll change what is there already.")] = False,
    studio: Studio = "studio",
) -> None:
    """Bring a whole studio (JSON, into an empty one) or a CSV list."""
    from pondus.running.backup import import_file

    with _in_words():
        said = import_file(_studio(studio), file, _list_kind(kind), leave_out_bad=leave_out_bad, update=update)
    typer.echo(said)


@app.command()
def erase(
    person: Annotated[str, typer.Option(help="Who: a name, or an id.")],
    also: Annotated[str | None, typer.Option(help="Places that may mean them, too: by number as shown, or all.")] = None,
    yes: Annotated[bool, typer.Option("--yes", help="Don't ask; the one act without undo.")] = False,
    studio: Studio = "studio",
) -> None:
    """Erase a person for good: their name goes from every place that holds it. What they tuned stays, under someone."""
    from pondus.running.erasing import erase_person

    with _in_words():
        typer.echo(erase_person(_studio(studio), person, also=also, ask=None if yes else _ask))


def _ask(question: str) -> str:
    return str(typer.prompt(question, default="", show_default=False))


@app.command()
def backup(file: Annotated[Path, typer.Argument(help="The file to write.")], studio: Studio = "studio") -> None:
    """Back the studio up, with PostgreSQL's own tool."""
    from pondus.running.backup import backup as back_up

    with _in_words():
        back_up(_studio(studio), file)
    typer.echo(f"{file} is written.")


@app.command()
def restore(
    file: Annotated[Path, typer.Argument(help="A file that backup wrote.")],
    replace: Annotated[bool, typer.Option(help="Replace what is in the studio now.")] = False,
    another: Annotated[
        bool | None,
        typer.Option(
            "--another/--in-its-place",
            help="Of another studio's backup: a studio of its own beside that one, or in its place (asked for at a terminal).",
        ),
    ] = None,
    studio: Studio = "studio",
) -> None:
    """Bring a backup back, all or nothing."""
    from pondus.running.backup import restore as bring_back

    with _in_words():
        bring_back(_studio(studio), file, replace=replace, another=another)
    typer.echo("The studio is as it was backed up.")


def _studio(name: str) -> str:
    if name not in ("studio", "demo"):
        raise BadInput("studio", f"There is no studio “{name}”; choose from studio and demo.")
    return name


@app.command()
def openapi() -> None:
    """Print the OpenAPI document of the web API."""
    import json

    from pondus.web.app import WebConfig, create_app

    web = create_app(WebConfig(database_url="postgresql://nobody@127.0.0.1:1/none"))
    with web.app_context():
        typer.echo(json.dumps(web.spec, indent=1, sort_keys=True))


@app.command()
def shots() -> None:
    """Retake docs/screenshots from the demo studio."""
    from pondus.demo.shots import retake

    with _in_words():
        retake()


def main() -> None:
    """Run the command line."""
    app(prog_name="bin/pondus")
