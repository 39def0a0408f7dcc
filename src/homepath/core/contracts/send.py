"""`homepath.send/1`"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from homepath.core.contracts.plan import change_json
from homepath.core.contracts.steps import Json
from homepath.core.dns.names import Name
from homepath.core.model.acts import Difference, Sent
from homepath.core.model.plan import Change

State = Literal["sent", "nothing", "refused", "partly", "unknown"]


def send_json(domain: Name, sent: Sent) -> Json:
    """What was sent, and what every server gives that differs from it."""
    state: State = "partly" if sent.differences else "sent"
    return not_sent_json(domain, state, sent.server.name, sent.changes, sent.differences)


def not_sent_json(
    domain: Name,
    state: State,
    server: Name = "",
    changes: Sequence[Change] = (),
    differences: Sequence[Difference] = (),
) -> Json:
    """Nothing was sent (there was nothing, or it was only shown), it was refused, or that is not known."""
    return {
        "format": "homepath.send/1",
        "domain": domain,
        "state": state,
        "server": server,
        "changes": [change_json(change) for change in changes],
        "read_back": [
            {
                "server": each.server,
                "name": each.change.name,
                "type": each.change.type,
                "values": list(each.given),
                "why": each.why,
            }
            for each in differences
        ],
        "findings": [],
    }
