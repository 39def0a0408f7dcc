"""Other web servers of the story: a parking page, an old site, a forwarder, a proxy in front of the builder."""

from __future__ import annotations

from dataclasses import replace

from homepath.practice.scene_file import PageTable
from homepath.practice.web_server import Handler, Request, Response, forwarded_path, page, redirect


def handler(table: PageTable, edge: Handler) -> Handler:
    """How this server answers; `edge` is the builder's, for a proxy to ask."""

    def handle(request: Request) -> Response:
        if table.kind == "forwarder":
            return redirect(table.to.rstrip("/") + forwarded_path(request.path, table.keeps), table.status)
        if table.kind == "proxy":
            return edge(replace(request, secure=request.secure and table.fetches == "https"))
        if table.kind == "site":
            return _old_site(table, request)
        return page("This domain is parked", f"{request.host} has no site yet.")

    return handle


def _old_site(table: PageTable, request: Request) -> Response:
    if table.https and not request.secure:
        return redirect(f"https://{request.host}{request.path}")
    answer = page("The site as it was", f"{request.host} at its former home.")
    if not (table.hsts and request.secure):
        return answer
    return replace(answer, headers={**answer.headers, "Strict-Transport-Security": table.hsts})
