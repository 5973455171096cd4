"""The commands behind ./niddy."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Annotated

import typer
from pydantic import ValidationError

from niddy.settings import Settings

ACCEPTED = {
    "home": "a folder",
    "port": "a port number from 1 to 65535",
    "today": "a day such as 2026-06-18",
    "address": "such as http://192.168.1.20:8740: http or https, one name or IPv4 address, the port of NIDDY_PORT",
    "certificate": "the file of a certificate",
    "certificate_key": "the file of its key",
}

app = typer.Typer(
    no_args_is_help=True,
    add_completion=False,
    pretty_exceptions_enable=False,
    help="Niddy: a working instrument for makers of artists' oil colour.",
)


def _settings() -> Settings:
    """The settings, or one line a variable that cannot be."""
    try:
        return Settings()
    except ValidationError as error:
        for problem in error.errors():
            name, given = str(problem["loc"][0]), problem["input"]
            print(
                f"niddy: NIDDY_{name.upper()}={given}: accepted is {ACCEPTED.get(name, 'another value')}",
                file=sys.stderr,
            )
        raise typer.Exit(1) from None


@app.command("help", hidden=True)
def listed(context: typer.Context) -> None:
    """The list of commands, as `--help` gives it."""
    assert context.parent is not None
    print(context.parent.get_help())


@app.command()
def start(demo: Annotated[bool, typer.Option(help="Load the demo studio into an empty database.")] = True) -> None:
    """Set up what is missing and serve; prints one address. Ctrl-C stops all."""
    from niddy.operations import serve

    raise typer.Exit(serve.start(_settings(), demo=demo))


@app.command()
def stop() -> None:
    """Stop a running instance, or what a crash left of one."""
    from niddy.operations import serve

    raise typer.Exit(serve.stop(_settings()))


@app.command("stand-in")
def stand_in(
    port: Annotated[int, typer.Option(help="Port of the balance's own page on loopback.")] = 8750,
    wire: Annotated[int, typer.Option(help="Port on which it sends its weight, for Workshop.")] = 8751,
    warm: Annotated[int, typer.Option(help="Port on which its thermometer sends, for Workshop.")] = 8752,
    ph: Annotated[int, typer.Option(help="Port on which its pH meter sends, for Workshop.")] = 8753,
) -> None:
    """Run the stand-in balance, thermometer and pH meter: a page of their own, read as real ones are."""
    from niddy.devices import stand_in

    print(f"stand-in balance at http://127.0.0.1:{port}, its port for Workshop: socket://127.0.0.1:{wire}")
    print(f"its thermometer: socket://127.0.0.1:{warm}; its pH meter: socket://127.0.0.1:{ph}")
    stand_in.run(port, wire, warm, ph)


@app.command()
def test(
    names: Annotated[
        list[str] | None, typer.Argument(help="Test modules, such as tests.core.test_pours; all if none.")
    ] = None,
) -> None:
    """Run linter, type checkers, front-end build and all tests; the last line counts them."""
    from niddy.operations import testing

    raise typer.Exit(testing.run(names or []))


@app.command()
def backup(
    file: Annotated[Path | None, typer.Argument(help="Where to; in the data folder if not given.")] = None,
) -> None:
    """Write all records into one file; Niddy may be running."""
    from niddy.operations import backup as operation

    raise typer.Exit(operation.backup(_settings(), file))


@app.command()
def restore(file: Annotated[Path, typer.Argument(help="A file made by ./niddy backup.")]) -> None:
    """Replace all records by a backup; Niddy must be stopped."""
    from niddy.operations import restoring

    raise typer.Exit(restoring.restore(_settings(), file))


@app.command("export")
def leave(file: Annotated[Path | None, typer.Argument(help="Where to; in this folder if not given.")] = None) -> None:
    """Write the whole studio as one zip that is read without Niddy (a Data Package); Niddy may be running."""
    from niddy.operations import package as operation

    raise typer.Exit(operation.leave(_settings(), file))


@app.command("import")
def come(
    file: Annotated[Path, typer.Argument(help="A package made by ./niddy export or in Workshop.")],
    add: Annotated[bool, typer.Option(help="Take in what is new; nothing here may be otherwise.")] = False,
    replace: Annotated[bool, typer.Option(help="Take it in place of all that is here.")] = False,
) -> None:
    """Say what would come in with a package; with --add or --replace take it in, all or nothing."""
    from niddy.operations import package as operation

    raise typer.Exit(operation.come(_settings(), file, add=add, replace=replace))


@app.command()
def owner(name: Annotated[str, typer.Argument(help="The name they sign in with.")]) -> None:
    """Add an owner who can sign in on the network, or give one who lost theirs a new password."""
    from niddy.operations import owner as operation

    raise typer.Exit(operation.owner(_settings(), name))


@app.command()
def certificate() -> None:
    """Make a certificate for the address in NIDDY_ADDRESS, so that the network cannot read along."""
    from niddy.operations import certificate as operation

    raise typer.Exit(operation.certificate(_settings()))


@app.command()
def doctor() -> None:
    """Say in plain words what is wrong with this instance, and what to do about it; changes nothing."""
    from niddy.operations import doctor as operation

    raise typer.Exit(operation.doctor(_settings()))


@app.command()
def screenshots() -> None:
    """Take the pictures in docs/screenshots from the demo data with the clock frozen."""
    from niddy.operations import frontend, screenshots

    frontend.build()
    raise typer.Exit(screenshots.take())


@app.command()
def attack(
    kills: Annotated[
        int,
        typer.Option(help="How many kills, over start, slab, backup, restore, import and the whole studio; 0: none."),
    ] = 200,
    examples: Annotated[
        int, typer.Option(help="How many made-up requests an address, at the most; 0: no requests.")
    ] = 85,
    seed: Annotated[int, typer.Option(help="The same seed attacks in the same way.")] = 20260618,
    slab: Annotated[bool, typer.Option("--slab", help="The laws of the slab alone, in random sessions.")] = False,
    sessions: Annotated[int, typer.Option(help="How many sessions at the slab.")] = 10_000,
) -> None:
    """For developers: attack an instance of its own; prints what was lost, doubled, answered wrongly or bricked."""
    from tests.attack import attacking as operation
    from tests.attack import slab as attack_slab

    from niddy.operations import frontend

    if slab:
        raise typer.Exit(1 if attack_slab.run(sessions) else 0)
    frontend.build()
    raise typer.Exit(operation.run(kills, examples, seed))


@app.command()
def words() -> None:
    """For developers: print every sentence a maker may be told, with the room or screen it comes from."""
    from niddy.operations import words as of_words

    of_words.show()


@app.command()
def mutate(
    of: Annotated[int, typer.Option(help="How many changes, half of them in core and half in the studio.")] = 200,
    floor: Annotated[str, typer.Option(help="core or studio, instead of both.")] = "",
    named: Annotated[bool, typer.Option(help="The changes kept by hand in tests/mutants.txt instead.")] = False,
    seed: Annotated[int, typer.Option(help="The same seed makes the same changes.")] = 20260618,
) -> None:
    """For developers: break the rules one at a time and print which breaks no test noticed."""
    from tests import mutate as operation

    if floor not in ("", *operation.FLOORS):
        raise typer.BadParameter(f"one of {', '.join(operation.FLOORS)}", param_hint="--floor")
    floors = (floor,) if floor else tuple(operation.FLOORS)
    chosen = operation.named() if named else operation.sampled(floors, of, seed)
    raise typer.Exit(operation.run([mutant for mutant in chosen if mutant.floor in floors]))


@app.command()
def revise(message: str) -> None:
    """For developers: write a database migration from the tables in code."""
    from niddy.db import migrations
    from niddy.operations.throwaway import throwaway

    cluster = throwaway()
    try:
        url = cluster.ensure()
        migrations.upgrade(url)
        migrations.revise(url, message)
    finally:
        cluster.destroy()


@app.command()
def lock() -> None:
    """For developers: lock the Python requirements anew."""
    import subprocess

    from niddy.settings import ROOT

    for name in ("requirements", "requirements-dev", "requirements-node", "requirements-uv"):
        subprocess.run(
            [
                str(Path(sys.executable).parent / "uv"),
                "pip",
                "compile",
                "-q",
                "--generate-hashes",
                "--no-emit-index-url",
                "--no-header",
                "--python-version",
                "3.11",
                f"{name}.in",
                "-o",
                f"{name}.txt",
            ],
            cwd=ROOT,
            check=True,
        )


@app.command()
def bench(
    sizes: Annotated[str, typer.Option(help="How many batches to measure at, in order.")] = "1000,10000",
    rounds: Annotated[int, typer.Option(help="How often each request is made.")] = 150,
    only: Annotated[
        str,
        typer.Option(
            help="Of: record, stock, session, consistency, shelf, sludge, making, home, day, whole, demand, mixing, "
            "studios, memory, start; all but the last three if empty."
        ),
    ] = "",
) -> None:
    """Measure speed as ratios to a bare endpoint, in a throwaway database."""
    from tests.bench import benching as bench

    from niddy.operations import frontend

    frontend.build()
    parts = tuple(only.split(",")) if only else bench.PARTS
    unknown = [part for part in parts if part not in (*bench.PARTS, bench.STUDIOS, bench.MEMORY, bench.START)]
    if unknown:
        raise typer.BadParameter(f"{', '.join(unknown)}: accepted are {', '.join(bench.PARTS)}")
    raise typer.Exit(bench.run(tuple(int(size) for size in sizes.split(",")), rounds, parts))
