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
from homepath.core.model.steps import Step
from homepath.core.wording.say import say
from homepath.core.wording.times import sentence_start
from homepath.core.wording.words import counted

ENDS = {
    "there": "has arrived: every address leads to your site.",
    "back": "is as it was before.",
    "away": "has left: no record leads to the builder any more.",
}


WAITS = {
    "caches": "Old answers are still kept between visitors and your domain (caches). Nobody can shorten that.",
    "absence": "Whoever asked too early remembers that nothing was there (caches). Nobody can shorten that.",
    "parent": "The old nameservers are still remembered on the way between visitors and your domain (caches).",
    "certificate": "The certificate is ordered by {builder} itself. Nobody has to be called.",
    "builder": "{builder} looks at the records by itself, now and then. Pressing its button again does not help.",
}


WAIT_FOR_DS = "The DS record is still in caches between visitors and your domain. Nobody can shorten that."


def wait_words(act: Wait, step: Step, builder: str) -> str:
    """Why there is nothing to do but wait."""
    if step.kind in ("new-zone", "compare"):
        return f"{sentence_start(say(step.why))}. Do not change the nameservers at the registrar before that."
    return WAIT_FOR_DS if step.kind == "wait-ds" else WAITS[act.cause].format(builder=builder)


def place_words(step: Step, builder: str, host: str) -> str:
    """Where a step is done, as somebody would say it."""
    return {
        "builder": f"at {builder} (your website builder)",
        "DNS host": f"at {host} (where your domain's records are)",
        "new DNS host": f"at {host} (who is to run your domain)",
        "registrar": "at the registrar (where you bought the domain)",
        "certificate authority": f"at {builder} (your website builder)",
        "here": "here",
    }[step.place]


@dataclass(frozen=True, slots=True)
class Part:
    """One line of what is to be done. `copy`: it is to be copied, so it stands alone and is never wrapped or changed;
    `level`: how far it stands in."""

    text: str
    copy: bool = False
    level: int = 1


def act_parts(act: Act, step: Step) -> Iterator[Part]:
    """What is to be done, line by line."""
    match act:
        case TellBuilder(names, primary):
            yield Part(f"connect  {'  and  '.join(shown(name) for name in names)}")
            if len(names) > 1:
                yield Part(f"and make  {shown(primary)}  the main address.")
        case Enter(delete, enter, _):
            if step.kind in ("lower-ttl", "raise-ttl"):
                yield Part(say(step.instruction))
            else:
                deeds = [counted(len(each), word) for each, word in ((delete, "delete"), (enter, "type")) if each]
                yield Part(f"{', '.join(deeds).capitalize()}.")
        case NameServers(servers):
            yield Part("Replace all present nameservers by exactly these, each on a line of its own:")
            for server in servers:
                yield Part(shown(server), True, 2)
            yield Part("Do not delete the old zone for now: caches still ask it.")
        case Forward(name, to):
            yield Part(f"In the forwarding page, permanently (301) and with path, forward  {shown(name)}  to")
            yield Part(to, True, 2)
        case Decide(question, choices):
            yield Part(say(question))
            for choice in choices:
                yield Part("")
                yield Part(say(choice.say), level=2)
                for entry in choice.loses:
                    yield Part(f"this is lost: {entry.type} at {shown(entry.name)}", level=3)
                    yield Part(entry.value, True, 4)
                yield Part(command(choice.then), True, 3)
        case BuilderStep(title, instruction):
            yield Part(say(title))
            if instruction != title:
                yield Part(say(instruction))
        case CheckAgain() | PublishAgain() | HttpsOnly() | RemoveDs():
            yield Part(say(step.instruction))
        case AddDs(values):
            yield Part("Enter as DS:")
            for value in values:
                yield Part(value, True, 2)


def command(words: Sequence[str]) -> str:
    """A command as it is typed."""
    import shlex

    return f"homepath {shlex.join(words)}"
