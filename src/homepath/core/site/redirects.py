"""Where the redirect from the second name to the primary address lives, and why there."""

from __future__ import annotations

from dataclasses import dataclass

from homepath.core.dns.names import Name, shown
from homepath.core.model.brief import Brief, Notation, RedirectPlace, Redirects, Site

WORDS: dict[str, str] = {
    "builder": "at the builder",
    "forwarding": "at the DNS host's forwarding",
    "proxy": "at the DNS host's proxy, by a rule",
    "own-server": "on a small web server of your own",
    "nobody": "nowhere",
}


@dataclass(frozen=True, slots=True)
class _Option:
    place: RedirectPlace
    secure: bool
    reason: str


def choose_redirects(
    site: Site, brief: Brief, notation: Notation, names: tuple[Name, ...], has_records: bool
) -> Redirects | None:
    """Decide where `names`, all but the primary, are redirected; None where there is nothing to redirect.

    `has_records`: the brief has records that lead them to the builder. The first place with https wins, in the order
    of least work; without any, the first there is. What the site file says holds.
    """
    if not names:
        return None
    found = _options(site, brief, notation, names, has_records)
    chosen = next((option for option in found if option.place == site.redirect), None)
    chosen = chosen or next((option for option in found if option.secure), found[0] if found else None)
    if chosen is None:
        said = "neither the builder, nor the DNS host, nor a server of your own redirects; name one under own_server"
        return Redirects("nobody", names, False, said)
    others = tuple(
        f"{WORDS[option.place]}{'' if option.secure else ', http only'}" for option in found if option is not chosen
    )
    return Redirects(chosen.place, names, chosen.secure, chosen.reason, others)


def _options(site: Site, brief: Brief, notation: Notation, names: tuple[Name, ...], has_records: bool) -> list[_Option]:
    which = " and ".join(shown(name) for name in names)
    found = []
    if has_records and brief.redirects_by != "nobody":
        said = f"{brief.builder} takes {which} and has certificates for it"
        if brief.redirects_by == "unknown":
            said = f"{brief.builder} takes {which}; its brief does not say whether it sends visitors on: see `visit`"
        found.append(_Option("builder", True, said))
    if notation.forwarding and site.primary == "www":
        kind = "over http and https" if notation.forwarding_https else "over http only, so https without www breaks"
        found.append(_Option("forwarding", notation.forwarding_https, f"{notation.host} forwards {which} {kind}"))
    if notation.proxy:
        found.append(
            _Option("proxy", True, f"{notation.host} has a proxy with certificates that can redirect by a rule")
        )
    if site.own_server:
        where = ", ".join(site.own_server)
        found.append(_Option("own-server", True, f"your own server at {where} can, `homepath forwarder` configures it"))
    return found
