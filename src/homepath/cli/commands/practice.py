"""`homepath practice`: a small simulated world to rehearse in, and what a person does in a browser there."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, Literal

import typer

from homepath.cli.commands.practice_pages import DomainArgument, do, form, registrar
from homepath.cli.common import FolderOption, quiet_app
from homepath.core.message import reason

if TYPE_CHECKING:
    from homepath.practice.scene_file import SceneTable


app = quiet_app(help="Practise in a simulated world on this machine.", no_args_is_help=True)
builder = quiet_app(help="The builder's settings page.", no_args_is_help=True)
app.add_typer(builder, name="builder")
app.add_typer(form, name="form")
app.add_typer(registrar, name="registrar")


@app.command("open")
def open_(
    folder: Annotated[Path, typer.Argument(help="The folder to practise in.")] = Path(),
    scene: Annotated[
        str, typer.Option(help="The starting world; `homepath practice scenes` lists them.")
    ] = "first-site",
    speed: Annotated[float, typer.Option(min=1, max=600, help="How many times faster than real time.")] = 60,
) -> None:
    """Open a practice world and keep it open until Ctrl-C."""
    import asyncio
    import contextlib

    from homepath.practice.scene_file import load_scene
    from homepath.practice.world import World, run

    world = World(load_scene(scene), folder, speed)
    typer.echo(f"{world.scene.title}.\n")
    for line in (*_task(world.scene), *_forms(world.scene)):
        typer.echo(line)
    typer.echo(
        f"\nThe world is open in {folder.resolve()}, at {world.clock.speed:g} times real speed. Ctrl-C closes it."
    )
    typer.echo("In another terminal, in that folder, run:\n  export HOMEPATH_NETWORK=network.toml")
    typer.echo(f"  {world.first_command}")
    with contextlib.suppress(KeyboardInterrupt):
        asyncio.run(run(world))


def _task(scene: SceneTable) -> list[str]:
    """What there is to do, in the names and the builder of the scene itself."""
    from homepath.practice.scene_file import site_of

    site, builder = site_of(scene), scene.builder.name
    if scene.ends == "left":
        return [f"Your task: leave {builder} with {site.domain}, so that no record points to it any more."]
    if scene.ends == "back":
        begin = f"Your task: begin to connect {site.domain} to {builder}, as homepath next says."
        return [begin, "Partway through, change your mind: homepath undo. In the end all records are restored."]
    www = f"www.{site.domain}"
    primary = {"www": www, "apex": site.domain}.get(site.primary, f"{site.primary}.{site.domain}")
    other = {"www": site.domain, "apex": www}.get(site.primary)
    lines = [f"Your task: connect {primary} to {builder}, your site builder."]
    if further := [*([other] if other else []), *site.also]:
        lines.append(f"{' and '.join(further)} redirect{'s' if len(further) == 1 else ''} to it.")
    return [*lines, "Nothing else may be lost, mail included."]


def _forms(scene: SceneTable) -> Iterator[str]:
    """What a person does in a browser, and the commands for it here."""
    host, builder = scene.host.name, scene.builder.name
    others = [each.name for each in scene.hosts]
    more = f"; with --at {' or '.join(others)}: theirs" if others else ""
    yield ""
    yield "What you would do in a browser, you do here with:"
    yield f"  homepath practice builder    the settings of your site at {builder}"
    yield f"  homepath practice form       {host}'s form for DNS records{more}"
    yield f"  homepath practice registrar  {scene.registration.registrar}'s form for nameservers and DS records"
    from homepath.core.files.site_file import SITE_FILE

    if plans := sorted(name for name in scene.files if name.endswith(f".{SITE_FILE}")):
        yield f"Other plans for the same domain: --site {' or '.join(plans)}"


@app.command("scenes")
def scenes(
    group: Annotated[
        str | None, typer.Argument(help="Show all scenes of one group, such as web.", show_default=False)
    ] = None,
) -> None:
    """List the practice worlds, and what each one teaches."""
    from homepath.cli.show.paper import paper
    from homepath.core.model.problems import BadInput, Problem
    from homepath.practice.scene_file import GROUPS, load_scene, names

    if group is not None and group not in GROUPS:
        raise BadInput(Problem("this group is unknown", key="GROUP", seen=group, hint=f"known: {', '.join(GROUPS)}"))
    sheet = paper()
    found = [(name, load_scene(name)) for name in names()]
    rows: list[tuple[str, str]] = []
    for each in (group,) if group else GROUPS:
        mine = sorted(((n, s) for n, s in found if s.group == each), key=lambda pair: pair[0] != "first-site")
        if each == "web" and not group:  # one fault each; with all of them the list would not fit on one screen
            rows.append((each.capitalize(), f"{len(mine)} scenes, one fault each: homepath practice scenes web"))
        else:
            rows += [(each.capitalize(), ""), *((f"  {name}", scene.teaches or scene.title) for name, scene in mine)]
    sheet.table(rows, indent=0)
    sheet.blank()
    sheet.say("Open one with: homepath practice open FOLDER --scene NAME")


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
    """Show the time in the practice world, or skip ahead."""
    from homepath.core.model.problems import BadInput, Problem
    from homepath.core.model.times import seconds_in

    try:
        seconds = seconds_in(skip) if skip else None
    except ValueError as error:
        raise BadInput(Problem(reason(error), key="--skip")) from error
    now = do(folder, "skip", seconds=seconds) if seconds else do(folder, "clock")
    typer.echo(f"It is {now['now']}, and time runs {now['speed']:g} times as fast.")


@builder.command("connect")
def connect(
    names: Annotated[
        list[str], typer.Argument(metavar="NAME...", help="The domain, or every name of it that the site is to have.")
    ],
    primary: Annotated[str, typer.Option(help="www, apex, a label, or the whole name.")] = "www",
    code: Annotated[str, typer.Option(help="The ownership code that the builder shows.")] = "tk-4471",
    leads_to: Annotated[
        str | None, typer.Option(help="For a further domain: the primary address of the site.", show_default=False)
    ] = None,
    folder: FolderOption = Path(),
) -> None:
    """Add a domain at the builder."""
    _show_claims(do(folder, "connect", names=names, primary=primary, code=code, leads_to=leads_to))


@builder.command("disconnect")
def disconnect(domain: DomainArgument, folder: FolderOption = Path()) -> None:
    """Remove a domain at the builder."""
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
    switch: Annotated[Literal["on", "off"], typer.Argument(help="Whether http redirects to https.")],
    folder: FolderOption = Path(),
) -> None:
    """Turn "HTTPS only" on or off at the builder."""
    do(folder, "https-only", on=switch == "on")
    typer.echo(f"HTTPS only is {switch}.")


@builder.command("state")
def state(folder: FolderOption = Path()) -> None:
    """Show the builder's settings page."""
    _show_claims(do(folder, "claims"))


@builder.command("support")
def support(folder: FolderOption = Path()) -> None:
    """Ask the builder's support to fix its side."""
    _show_claims(do(folder, "support"))


@builder.command("publish")
def publish(domain: DomainArgument, folder: FolderOption = Path()) -> None:
    """Publish the site again."""
    done = do(folder, "publish", domain=domain)["published"]
    typer.echo(
        "Published." if done else "Published, without effect: the domain does not use the builder's nameservers yet."
    )


def _show_claims(answer: dict[str, Any]) -> None:
    for claim in answer["claims"]:
        _show_claim(claim)
    if not answer["claims"]:
        typer.echo("No domain is connected.")


def _show_claim(claim: dict[str, Any]) -> None:
    typer.echo(f"{claim['domain']}: {claim['state']} ({claim['words']}); primary address {claim['primary']}")
    if len(set(claim["names"].values())) > 1:
        for name, state in claim["names"].items():
            typer.echo(f"  {name}: {state}")
