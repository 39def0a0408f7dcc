"""Asks a practice world that is open in a folder, as its browser."""

from __future__ import annotations

import http.client
import json
from pathlib import Path
from typing import Any

from homepath.core.model.problems import BadInput, CouldNotLook, Problem

STATE_FILE = "world.json"
"""Where an open world says how to reach it; readable by its owner alone."""


def do(folder: Path, deed: str, **asked: Any) -> dict[str, Any]:
    """Ask the world that is open in `folder`. Raises BadInput when it says no, CouldNotLook when none is open."""
    try:
        state = json.loads((folder / STATE_FILE).read_text(encoding="utf-8"))
        connection = http.client.HTTPConnection("127.0.0.1", int(state["control"]), timeout=10)
        body = json.dumps({"deed": deed, "token": state["token"], **asked})
        connection.request("POST", "/", body, {"Content-Type": "application/json"})
        response = connection.getresponse()
        answer = dict(json.loads(response.read(1_000_000)))
    except (OSError, ValueError, KeyError, http.client.HTTPException) as error:
        raise CouldNotLook(
            f"no practice world is open in {folder}", "Open one with `homepath practice open` in another terminal."
        ) from error
    if response.status != 200:
        raise BadInput(
            Problem(
                str(answer.get("message", "the practice world refused")),
                key=answer.get("key"),
                seen=answer.get("seen"),
                hint=answer.get("hint"),
            )
        )
    return answer
