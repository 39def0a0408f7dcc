"""What a person does in a browser in the practice world: the DNS hosts' forms, the registrar's; and the demo."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any

import typer

from homepath.cli.common import FolderOption, quiet_app


def demo(
    folder: Annotated[
        Path | None,
        typer.Option("--folder", help="Where to leave everything. Default: a new folder.", show_default=False),
    ] = None,
    speed: Annotated[float, typer.Option(min=1, max=600, help="How many times faster than real time.")] = 20,
) -> None:
    """Watch a domain move to a builder, in about a minute.

    One mistake is included. Nothing leaves this machine."""
    import tempfile

    from homepath.cli.story import tell

    where = folder or Path(tempfile.mkdtemp(prefix="homepath-demo-"))
    raise typer.Exit(tell(where, speed))


form = quiet_app(help="Use the DNS host's form, or with --at that of another host.", no_args_is_help=True)
registrar = quiet_app(help="Use the registrar's form: nameservers and DS records.", no_args_is_help=True)

DomainArgument = Annotated[str, typer.Argument(help="The domain.")]
HostArgument = Annotated[str, typer.Argument(metavar="NAME", help="The name field, as you would type it.")]
TypeArgument = Annotated[str, typer.Argument(metavar="TYPE", help="A, AAAA, CNAME, TXT, MX, ...")]
AtOption = Annotated[
    str, typer.Option("--at", help="At which host. Default: where the domain began.", show_default=False)
]


@form.command("enter")
def enter(
    domain: DomainArgument,
    name: HostArgument,
    type_: TypeArgument,
    value: Annotated[str, typer.Argument(help="The value field.")],
    ttl: Annotated[int | None, typer.Option(min=0, show_default=False, help="Seconds.")] = None,
    at: AtOption = "",
    folder: FolderOption = Path(),
) -> None:
    """Add a record."""
    done = do(folder, "enter", domain=domain, name=name, type=type_, value=value, ttl=ttl, at=at)
    typer.echo(f"Saved. {done['name']} {done['type']} is now: {', '.join(done['values'])}")


@form.command("edit")
def edit(
    domain: DomainArgument,
    name: HostArgument,
    type_: TypeArgument,
    old: Annotated[str, typer.Argument(help="The value that the record has.")],
    value: Annotated[str, typer.Argument(help="The new value.")],
    ttl: Annotated[int | None, typer.Option(min=0, show_default=False, help="Seconds.")] = None,
    at: AtOption = "",
    folder: FolderOption = Path(),
) -> None:
    """Edit a record in place."""
    done = do(folder, "edit", domain=domain, name=name, type=type_, old=old, value=value, ttl=ttl, at=at)
    typer.echo(f"Saved. {done['name']} {done['type']} is now: {', '.join(done['values'])}")


@form.command("delete")
def delete(
    domain: DomainArgument,
    name: HostArgument,
    type_: TypeArgument,
    value: Annotated[str | None, typer.Argument(help="The value; without it, all of that type.")] = None,
    at: AtOption = "",
    folder: FolderOption = Path(),
) -> None:
    """Delete a record."""
    do(folder, "delete", domain=domain, name=name, type=type_, value=value, at=at)
    typer.echo("Deleted.")


@form.command("forward")
def forward(
    domain: DomainArgument,
    name: HostArgument,
    to: Annotated[str, typer.Argument(help="The full URL to forward to.")],
    at: AtOption = "",
    folder: FolderOption = Path(),
) -> None:
    """Forward a name, on the form's forwarding page."""
    do(folder, "forward", domain=domain, name=name, to=to, at=at)
    typer.echo(f"{name} of {domain} is forwarded to {to}.")


@form.command("entries")
def entries(domain: DomainArgument, at: AtOption = "", folder: FolderOption = Path()) -> None:
    """Show the records in the form."""
    _show_entries(do(folder, "entries", domain=domain, at=at)["entries"])


@form.command("add-domain")
def add_domain(
    domain: DomainArgument,
    at: Annotated[str, typer.Option("--at", help="At which other host.")],
    folder: FolderOption = Path(),
) -> None:
    """Add a domain at another host.

    It copies what it can guess, and assigns nameservers.
    """
    done = do(folder, "open-zone", domain=domain, at=at)
    typer.echo(f"{domain} is added at {done['at']}. Its nameservers: {', '.join(done['servers'])}")
    _show_entries(done["entries"])


@form.command("delete-domain")
def delete_domain(domain: DomainArgument, at: AtOption = "", folder: FolderOption = Path()) -> None:
    """Delete a whole domain at a host."""
    do(folder, "close-zone", domain=domain, at=at)
    typer.echo(f"{domain} is deleted there.")


@form.command("import")
def import_(
    domain: DomainArgument,
    file: Annotated[Path, typer.Argument(help="A master file.")],
    at: AtOption = "",
    folder: FolderOption = Path(),
) -> None:
    """Let the form read a file."""
    from homepath.files import read_text

    done = do(folder, "import", domain=domain, at=at, text=read_text(file, "the file"))
    typer.echo(f"{done['taken']} record sets were taken from {file}.")


@form.command("sign")
def sign(
    domain: DomainArgument,
    at: Annotated[str, typer.Option("--at", help="At which other host.")],
    folder: FolderOption = Path(),
) -> None:
    """Switch DNSSEC on at another host."""
    for value in do(folder, "sign", domain=domain, at=at)["ds"]:
        typer.echo(f"Signed. The registrar needs this DS record: {value}")


@registrar.command("show")
def show(domain: DomainArgument, folder: FolderOption = Path()) -> None:
    """Show what the registrar's form holds."""
    _show_registrar(do(folder, "registrar", domain=domain))


@registrar.command("servers")
def servers(
    domain: DomainArgument,
    names: Annotated[
        list[str], typer.Argument(metavar="SERVER...", help="All nameservers; they replace the old ones.")
    ],
    folder: FolderOption = Path(),
) -> None:
    """Enter the nameservers; all others are removed."""
    _show_registrar(do(folder, "servers", domain=domain, servers=names))


@registrar.command("ds")
def ds(
    domain: DomainArgument,
    values: Annotated[
        list[str] | None, typer.Argument(metavar="[VALUE...]", help="DS records; none removes them.")
    ] = None,
    folder: FolderOption = Path(),
) -> None:
    """Enter the DS records, or remove all of them."""
    _show_registrar(do(folder, "ds", domain=domain, values=values or []))


def do(folder: Path, deed: str, **asked: Any) -> dict[str, Any]:
    """One deed in the world that is open in the folder."""
    from homepath.practice.paths import do as ask

    return ask(folder, deed, **asked)


def _show_registrar(found: dict[str, Any]) -> None:
    typer.echo(f"Nameservers: {', '.join(found['servers'])}")
    typer.echo(f"DS records: {'; '.join(found['ds']) or 'none'}")


def _show_entries(found: list[dict[str, Any]]) -> None:
    from homepath.cli.show.paper import paper

    rows = [(each["name"], each["type"], str(each["ttl"]), value) for each in found for value in each["values"]]
    paper().table(rows, header=("name", "type", "ttl", "value"))
