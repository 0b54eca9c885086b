"""The one command. `bin/pondus` installs what is missing and hands over to this."""

import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Annotated

import typer

from pondus.core.errors import PondusError

app = typer.Typer(
    name="pondus",
    help="Tuning student violins, violas and cellos: which string, which peg or screw, which way, how much.",
    no_args_is_help=True,
    add_completion=False,
    pretty_exceptions_enable=False,
)
UNUSABLE, REFUSED = 3, 2


@contextmanager
def _in_words() -> Iterator[None]:
    """A domain error becomes one line on stderr and exit status 2."""
    try:
        yield
    except PondusError as error:
        typer.echo(error.message, err=True)
        raise typer.Exit(REFUSED) from None


Port = Annotated[int, typer.Option(help="Port on 127.0.0.1.", min=1, max=65535)]


@app.command()
def demo(port: Port = 8088) -> None:
    """Run Pondus with the demo studio, made-up instruments of a summer camp."""
    from pondus.demo.studio import fill
    from pondus.running.studio import run_studio

    with _in_words():
        run_studio("demo", port, fill=fill)


@app.command()
def start(port: Port = 8087) -> None:
    """Run Pondus with the studio's own data."""
    from pondus.running.studio import run_studio

    with _in_words():
        run_studio("studio", port)


@app.command()
def advise(
    as_json: Annotated[bool, typer.Option("--json", help="Print JSON.")] = False,
) -> None:
    """Read one request (JSON) from standard input and print the next move."""
    from pondus.contracts.advice import AdviceRequest

    with _in_words():
        advice = AdviceRequest.model_validate_json(sys.stdin.buffer.read()).advise()
    if as_json:
        typer.echo(advice.model_dump_json())
        return
    for step in advice.steps:
        typer.echo(step.say)
    typer.echo(advice.why)


@app.command()
def hear(
    file: Annotated[Path, typer.Argument(help="A WAV, FLAC or OGG recording of one string.")],
    instrument: Annotated[str, typer.Option(help="violin, viola or cello.")],
    string: Annotated[str | None, typer.Option(help="The string, if known; else it is found.")] = None,
    a4: Annotated[float, typer.Option(help="The reference in Hz.")] = 440.0,
    as_json: Annotated[bool, typer.Option("--json", help="Print JSON.")] = False,
) -> None:
    """Hear one string in a recording. Exit status 3 where there is no steady pitch."""
    from pondus.contracts.hearing import HearingResult
    from pondus.core.hearing.hear import hear as hear_sound
    from pondus.core.instruments import instrument_named
    from pondus.core.pitch import check_a4
    from pondus.recordings import read_sound

    with _in_words():
        kind = instrument_named(instrument)
        if string is not None:
            kind.string(string)
        sound = read_sound(file, name=str(file))
        result = HearingResult.of(hear_sound(sound, kind, string=string, a4=check_a4(a4)), file=str(file))
    typer.echo(result.model_dump_json() if as_json else _heard_in_words(result))
    if not result.usable:
        raise typer.Exit(UNUSABLE)


def _heard_in_words(result: "object") -> str:
    from pondus.contracts.hearing import HearingResult

    assert isinstance(result, HearingResult)
    if not result.usable:
        return f"No steady pitch: {result.reason}."
    return f"{result.note} {result.cents:+.1f} cents ({result.hz:.2f} Hz), {result.string} string {result.string_cents:+.1f}."


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
    app()
