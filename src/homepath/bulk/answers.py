"""One answer, or one step said to be done, for many domains of a list at once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from homepath.app.decide import decided, say_done
from homepath.bulk.opened import open_from
from homepath.bulk.state import State
from homepath.bulk.views import Filter
from homepath.core.contracts.assessment import Json
from homepath.core.dns.names import Name, shown
from homepath.core.message import Text, messages, msg
from homepath.core.model.problems import BadInput


@dataclass(frozen=True, slots=True)
class Asking:
    """A domain whose question has this answer. `loses`: the records that it gives up by it."""

    domain: Name
    loses: tuple[Json, ...] = ()
    done: bool = False
    """Whether the answer is that a step is done."""


def asking(state: State, chosen: Filter, decide: str, done: str) -> list[Asking]:
    """The domains, of those chosen, that ask this question or are at this step, in the list's order."""
    found = []
    for line in chosen.of(state, upto=state.changes.last()):
        act = line["act"] or {}
        choice = next((each for each in act.get("choices", ()) if decide and each["then"][-1] == decide), None)
        if choice is not None:
            found.append(Asking(line["domain"], tuple(choice["loses"]), "--done" in choice["then"]))
        elif done and (line["assessment"] or {}).get("step") == done:
            found.append(Asking(line["domain"], done=True))
    return found


def record(path: Path, them: Sequence[Asking], decide: str, done: str, now: float) -> list[Text]:
    """Record it for each; what went wrong, and for which. One that fails stops no other."""
    failed: list[Text] = []
    for each in them:
        try:
            project = open_from(path, shown(each.domain), now)
            if each.done:
                say_done(project, decide or done, now)
            else:
                decided(project, decide, now)
        except BadInput as error:
            message = messages((problem.message for problem in error.problems), "clauses")
            failed.append(msg("answers.failed", domain=shown(each.domain), error=message))
    return failed
