"""`homepath practice`: a small world on this machine to rehearse in, and what a person does in a browser there."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any, Literal

import typer

from homepath.cli.apps import quiet_app
from homepath.cli.commands.practice_forms import DomainArgument, do, form, registrar
from homepath.cli.options import FolderOption

app = quiet_app(help="Rehearse the whole job in a small world on this machine.", no_args_is_help=True)
builder = quiet_app(help="The builder's settings page.", no_args_is_help=True)
app.add_typer(builder, name="builder")
app.add_typer(form, name="form")
app.add_typer(registrar, name="registrar")


@app.command("open")
def open_(
    folder: Annotated[Path, typer.Argument(help="The folder to practise in.")] = Path(),
    scene: Annotated[str, typer.Option(help="The starting world.")] = "pottery",
    speed: Annotated[float, typer.Option(min=1, max=600, help="How many times faster than real time.")] = 60,
) -> None:
    """Open a practice world and keep it open until Ctrl-C."""
    import asyncio
    import contextlib

    from homepath.practice.scene_file import load_scene
    from homepath.practice.world import World, run

    world = World(load_scene(scene), folder, speed)
    typer.echo(f"{world.scene.title}.")
    typer.echo(f"Your task: {world.scene.task or world.usual_task}")
    typer.echo(f"The world is open in {folder.resolve()}, {world.clock.speed:g} times as fast as real time.")
    typer.echo("In another terminal, in that folder: export HOMEPATH_NETWORK=network.toml")
    typer.echo(f"Then begin with: {world.first_command}")
    typer.echo("Ctrl-C closes it.")
    with contextlib.suppress(KeyboardInterrupt):
        asyncio.run(run(world))


@app.command("scenes")
def scenes() -> None:
    """All worlds there are to practise in, with what each teaches."""
    from homepath.cli.show.paper import paper
    from homepath.practice.scene_file import load_scene, names

    sheet = paper()
    sheet.say("Open one with: homepath practice open --scene NAME FOLDER")
    sheet.blank()
    rows = []
    for name in names():
        scene = load_scene(name)
        rows.append((name, scene.teaches or scene.title))
    sheet.table(rows)


@app.command("close")
def close(folder: FolderOption = Path()) -> None:
    """Close the world that is open in a folder."""
    do(folder, "close")
    typer.echo("The practice world is closed.")


@app.command("clock")
def clock(
    skip: Annotated[str | None, typer.Option(help="Jump forward, such as '2 h'.", show_default=False)] = None,
    folder: FolderOption = Path(),
) -> None:
    """The time of the story."""
    from homepath.core.model.problems import BadInput, Problem
    from homepath.core.model.times import seconds_in

    try:
        seconds = seconds_in(skip) if skip else None
    except ValueError as error:
        raise BadInput(Problem(str(error), key="--skip")) from error
    now = do(folder, "skip", seconds=seconds) if seconds else do(folder, "clock")
    typer.echo(f"It is {now['now']}, and time runs {now['speed']:g} times as fast.")


@builder.command("connect")
def connect(
    domain: DomainArgument,
    primary: Annotated[str, typer.Option(help="www, apex or a label.")] = "www",
    code: Annotated[str, typer.Option(help="The ownership code the builder shows.")] = "tk-4471",
    leads_to: Annotated[
        str | None, typer.Option(help="For a further domain: the address it leads to.", show_default=False)
    ] = None,
    folder: FolderOption = Path(),
) -> None:
    """Tell the builder of a domain."""
    claim = do(folder, "connect", domain=domain, primary=primary, code=code, leads_to=leads_to)
    _show_claim(claim)


@builder.command("disconnect")
def disconnect(domain: DomainArgument, folder: FolderOption = Path()) -> None:
    """Take a domain away from the builder."""
    removed = do(folder, "disconnect", domain=domain)["removed"]
    typer.echo(f"{domain} is disconnected." if removed else f"{domain} was not connected.")


@builder.command("check")
def check(
    domain: Annotated[str | None, typer.Argument(help="The domain. Default: every one that is connected.")] = None,
    folder: FolderOption = Path(),
) -> None:
    """Press the builder's check button."""
    _show_claims(do(folder, "check", domain=domain))


@builder.command("https-only")
def https_only(
    switch: Annotated[Literal["on", "off"], typer.Argument(help="Whether http leads to https.")],
    folder: FolderOption = Path(),
) -> None:
    """Turn the builder's switch for HTTPS only."""
    do(folder, "https-only", on=switch == "on")
    typer.echo(f"HTTPS only is {switch}.")


@builder.command("state")
def state(folder: FolderOption = Path()) -> None:
    """What the builder's page says."""
    _show_claims(do(folder, "claims"))


@builder.command("publish")
def publish(domain: DomainArgument, folder: FolderOption = Path()) -> None:
    """Publish the site again."""
    done = do(folder, "publish", domain=domain)["published"]
    typer.echo(
        "Published." if done else "Published, without effect: the domain's name servers are not the builder's yet."
    )


def _show_claims(answer: dict[str, Any]) -> None:
    for claim in answer["claims"]:
        _show_claim(claim)
    if not answer["claims"]:
        typer.echo("No domain is connected.")


def _show_claim(claim: dict[str, Any]) -> None:
    typer.echo(f"{claim['domain']}: {claim['state']} ({claim['words']}); main address {claim['primary']}")
    if len(set(claim["names"].values())) > 1:
        for name, state in claim["names"].items():
            typer.echo(f"  {name}: {state}")
