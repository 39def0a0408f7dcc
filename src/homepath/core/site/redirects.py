"""Where the redirect from the second name to the primary address lives, and why there."""

from __future__ import annotations

from dataclasses import dataclass

from homepath.core.dns.names import Name, shown
from homepath.core.message import Text, msg
from homepath.core.model.brief import Brief, Notation, RedirectPlace, Redirects, Site


@dataclass(frozen=True, slots=True)
class _Option:
    place: RedirectPlace
    secure: bool
    reason: Text


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
        return Redirects("nobody", names, False, msg("redirects.nobody"))
    others = tuple(
        msg(f"redirect-place.{option.place}" if option.secure else f"redirect-place.{option.place}.plain")
        for option in found
        if option is not chosen
    )
    return Redirects(chosen.place, names, chosen.secure, chosen.reason, others)


def _options(site: Site, brief: Brief, notation: Notation, names: tuple[Name, ...], has_records: bool) -> list[_Option]:
    which = " and ".join(shown(name) for name in names)
    found = []
    if has_records and brief.redirects_by != "nobody":
        said = msg("redirects.options.said", builder=brief.builder, which=which)
        if brief.redirects_by == "unknown":
            said = msg("redirects.options.said-2", builder=brief.builder, which=which)
        found.append(_Option("builder", True, said))
    if notation.forwarding and site.primary == "www":
        kind = msg("redirects.options.kind") if notation.forwarding_https else msg("redirects.options.kind-2")
        found.append(
            _Option(
                "forwarding",
                notation.forwarding_https,
                msg("redirects.options", host=notation.host, which=which, kind=kind),
            )
        )
    if notation.proxy:
        found.append(_Option("proxy", True, msg("redirects.options-2", host=notation.host)))
    if site.own_server:
        where = ", ".join(site.own_server)
        found.append(_Option("own-server", True, msg("redirects.options-3", where=where)))
    return found
