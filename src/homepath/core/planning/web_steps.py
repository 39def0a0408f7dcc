"""Steps about redirects and https: the old hsts, forwarding, other places for redirects, HTTPS only."""

from __future__ import annotations

from collections.abc import Iterator

from homepath.core.model.names import shown
from homepath.core.model.plan import Place
from homepath.core.planning.draft import Draft
from homepath.core.wanted.case import Case


def take_back_hsts(case: Case) -> Iterator[Draft]:
    """Before the change, where the old site made one that the new place cannot keep yet (RFC 6797)."""
    names = [shown(name) for name in case.wanted.names if (p := case.hsts.get(name)) and p.binds]
    if names:
        yield Draft(
            "take-back-hsts",
            "here",
            "Have the certificate first, or take the promise of https back",
            f"Run `homepath visit --ahead`. If the builder has no certificate for {' and '.join(names)} yet, let the "
            'old site answer "Strict-Transport-Security: max-age=0" and give returning visitors some days.',
            "`homepath visit --ahead` shows a good certificate, or `homepath visit` no promise any more.",
            7 * 86400,
            "Let the old site promise https again.",
        )


def forward(case: Case) -> Iterator[Draft]:
    there = case.wanted.redirects
    for name in case.wanted.forwarded if there and there.place == "forwarding" else ():
        yield Draft(
            "forward",
            "DNS host",
            f"Forward {shown(name)}",
            f"In {case.notation.host}'s forwarding page, forward {shown(name)} to {case.wanted.primary_url} "
            "permanently (301), with path. Delete address entries at @ that the page names as in the way.",
            f"http://{shown(name)}/ leads to {case.wanted.primary_url}",
            3600,
            "Delete the forwarding again.",
        )


def redirect(case: Case) -> Iterator[Draft]:
    """Where something else than the builder or the host's forwarding page redirects the second name."""
    there = case.wanted.redirects
    if there is None or there.place not in ("proxy", "own-server"):
        return
    names = " and ".join(shown(name) for name in there.names)
    place: Place = "DNS host" if there.place == "proxy" else "here"
    if there.place == "proxy":
        title, how = f"Let the proxy redirect {names}", "`homepath forwarder --for proxy` has the rule in words."
    else:
        title = f"Set your own server up to redirect {names}"
        how = "`homepath forwarder --for nginx`, `apache` or `caddy` writes its configuration."
    yield Draft(
        "redirect",
        place,
        title,
        f"{how} It must answer http and https, and keep path and query.",
        f"https://{shown(there.names[0])}/ leads to {case.wanted.primary_url}",
        0,
        "Take the rule or the configuration away again.",
    )


def https_only(case: Case) -> Iterator[Draft]:
    yield Draft(
        "https-only",
        "builder",
        "Switch on HTTPS only, and promise it later",
        f'Once every certificate is good, switch on "HTTPS only" at {case.wanted.builder}. Let it promise https to '
        "browsers (HSTS) only after some calm weeks, for 5 minutes first, then a week, then longer; for every name "
        "below the domain only if all of them have https.",
        "`homepath visit` says arrived, from http too.",
        0,
        'Switch "HTTPS only" off; a promise holds in browsers until it runs out or is renewed with max-age=0.',
    )
