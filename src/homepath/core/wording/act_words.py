"""What a person does now, in words: for the terminal, and for pages to keep or send."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from homepath.core.dns.names import shown
from homepath.core.model.acts import (
    Act,
    AddDs,
    BuilderStep,
    CheckAgain,
    Decide,
    Enter,
    Forward,
    HttpsOnly,
    NameServers,
    PublishAgain,
    RemoveDs,
    TellBuilder,
    Wait,
)
from homepath.core.model.brief import NO_NOTATION
from homepath.core.model.steps import Step
from homepath.core.wording.say import say
from homepath.core.wording.times import sentence_start
from homepath.core.wording.words import UNNAMED_BUILDER, to_enter

ENDS = {
    "there": "has arrived: every address ends at your site.",
    "back": "is back to the records from before the change.",
    "away": "has left: no record points to the builder any more.",
}


WAITS = {
    "caches": "Some caches can still hold the old records. Nothing can speed that up.",
    "absence": "Some caches can still remember that there was no record. Nothing can speed that up.",
    "parent": "Some caches can still use the old nameservers. Nothing can speed that up.",
    "certificate": "{builder} requests the certificate automatically.",
    "builder": "{builder} checks the records automatically, now and then. Pressing its button again does not help.",
}


WAIT_FOR_DS = "Some caches can still hold the DS record. Nothing can speed that up."


def wait_words(act: Wait, step: Step, builder: str) -> str:
    """Why there is nothing to do but wait."""
    if step.kind in ("new-zone", "compare"):
        return f"{sentence_start(say(step.why))}. Do not change the nameservers at the registrar before that."
    return WAIT_FOR_DS if step.kind == "wait-ds" else WAITS[act.cause].format(builder=builder)


def place_words(step: Step, builder: str, host: str) -> str:
    """Where a step is done, as someone would say it."""
    at_builder = f"at {builder} (your site builder)" if builder != UNNAMED_BUILDER else "at your site builder"
    return {
        "builder": at_builder,
        "DNS host": f"at {host} (your DNS host)" if host != NO_NOTATION.host else "at your DNS host",
        "new DNS host": f"at {host} (your new DNS host)",
        "registrar": "at the registrar (where you bought the domain)",
        "certificate authority": at_builder,
        "here": "here",
    }[step.place]


@dataclass(frozen=True, slots=True)
class Part:
    """One line of what to do. `copy`: a value to copy, alone on its line, never wrapped or changed;
    `level`: how far it is in."""

    text: str
    copy: bool = False
    level: int = 1


def act_parts(act: Act, step: Step) -> Iterator[Part]:
    """What is to be done, line by line."""
    match act:
        case TellBuilder(names, primary):
            yield Part(f"connect  {'  and  '.join(shown(name) for name in names)}")
            if len(names) > 1:
                yield Part(f"and make  {shown(primary)}  the primary address.")
        case Enter(delete, enter, _):
            if step.kind in ("lower-ttl", "raise-ttl"):
                yield Part(say(step.instruction))
            else:
                yield Part(f"{to_enter(len(delete), len(enter)).capitalize()}.")
        case NameServers(servers):
            yield Part("Replace all nameservers with exactly these, one per line:")
            for server in servers:
                yield Part(shown(server), True, 2)
            yield Part("Do not delete the old zone yet: caches still query it.")
        case Forward(name, to):
            yield Part(f"On the forwarding page, forward  {shown(name)}  permanently (301), with the path, to")
            yield Part(to, True, 2)
        case Decide(question, choices):
            yield Part(say(question))
            for choice in choices:
                yield Part("")
                yield Part(say(choice.say), level=2)
                for entry in choice.loses:
                    yield Part(f"you lose {entry.type} at {shown(entry.name)}", level=3)
                    yield Part(entry.value, True, 4)
                yield Part(command(choice.then), True, 3)
        case BuilderStep(title, instruction, _):
            yield Part(say(title))
            if instruction != title:
                yield Part(say(instruction))
        case CheckAgain() | PublishAgain() | HttpsOnly() | RemoveDs():
            yield Part(say(step.instruction))
        case AddDs(values):
            yield Part("Enter this DS record:")
            for value in values:
                yield Part(value, True, 2)


def command(words: Sequence[str]) -> str:
    """A command as it is typed."""
    import shlex

    return f"homepath {shlex.join(words)}"
