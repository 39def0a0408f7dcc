"""`homepath forwarder`: ready configuration for a server that only redirects."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Annotated, Literal

import typer

from homepath.cli.common import Common, about_a_site
from homepath.core.message import reason


@about_a_site("domain", "network", "json", "plain", "verbose")
def forwarder(
    common: Common,
    kind: Annotated[
        Literal["nginx", "apache", "caddy", "proxy"],
        typer.Option("--for", help="Which server; proxy: a rule in words for the form of a proxy in front."),
    ] = "nginx",
    names: Annotated[
        list[str] | None,
        typer.Option(
            "--from",
            metavar="NAME",
            help="A name to redirect to the primary address. May be repeated. Default: all of the site's.",
            show_default=False,
        ),
    ] = None,
    hsts: Annotated[
        str | None,
        typer.Option(
            "--hsts", metavar="DURATION", help="How long browsers must use https (HSTS). Default: no HSTS header."
        ),
    ] = None,
    certificate: Annotated[
        str | None, typer.Option(help="Absolute path of the certificate chain on the server.", show_default=False)
    ] = None,
    key: Annotated[str | None, typer.Option(help="Absolute path of its key there.", show_default=False)] = None,
    listen: Annotated[
        list[str] | None, typer.Option(metavar="ADDRESS", help="Listen only there. Default: everywhere.")
    ] = None,
    to: Annotated[
        Path | None, typer.Option("--to", help="Write into this file. Default: the terminal.", show_default=False)
    ] = None,
) -> None:
    """Write the configuration for a server that redirects names.

    For a server of your own, which redirects the other names of the site to its primary address."""
    from homepath.app.entering import names_to_forward
    from homepath.core.dns.names import shown
    from homepath.core.model.problems import BadInput, Problem
    from homepath.core.model.times import seconds_in
    from homepath.files import write_text
    from homepath.report.server_config import WRITERS, Forwarder, checked

    project, _ = common.offline()
    try:
        seconds = seconds_in(hsts) if hsts else 0
    except ValueError as error:
        raise BadInput(Problem(reason(error), key="--hsts", seen=hsts or "")) from error
    chosen = tuple(name.strip().lower().removesuffix(".") for name in names) if names else names_to_forward(project)
    if not chosen:
        raise BadInput(Problem("this site has no other name to redirect to its primary address", key="--from"))
    made = Forwarder(chosen, shown(project.wanted.primary), seconds, certificate, key, tuple(listen or ()))
    text = WRITERS[kind](checked(made))
    if to is None:
        sys.stdout.write(text)
    else:
        write_text(to, text)
        typer.echo(f"{to} redirects {' and '.join(chosen)} to {project.wanted.primary_url}")
        typer.echo("Once it runs on your server: homepath next")
