"""What a builder may be waiting for while all name servers are right, most likely first."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from homepath.core.dns.names import shown
from homepath.core.findings.registry import kind_of
from homepath.core.model.brief import numbered
from homepath.core.model.evidence import BuilderWait
from homepath.core.model.findings import Finding
from homepath.core.model.times import lasting
from homepath.core.model.visits import Possibility, Way
from homepath.core.site.wanted import Wanted


@dataclass(frozen=True, slots=True)
class Known:
    """All that was seen. `since`: when DNS was first seen to be right; `settled_by`: when the last cache lets go.

    `findings`: of the last survey; `told`: steps that the person said are done, by id. `wait`: the one for the builder.
    """

    wanted: Wanted
    ways: Sequence[Way]
    findings: Sequence[Finding]
    told: Mapping[str, float]
    since: float | None
    settled_by: float | None
    now: float

    @property
    def wait(self) -> BuilderWait:
        https = self.wanted.https
        return BuilderWait(self.begin, https.usual_wait, https.longest_wait)

    @property
    def pressed(self) -> bool:
        """Whether the check button was pressed since DNS is right; pressing it again does not help."""
        return "check-again" in self.told and self.told["check-again"] >= self.begin

    @property
    def unaware(self) -> bool:
        """The builder's edge answers, and does not serve the name."""
        return any(way.hops[-1].status in (404, 410, 421) for way in self.ways)

    @property
    def uncertified(self) -> bool:
        return any(hop.certificate and hop.certificate.state != "good" for way in self.ways for hop in way.hops)

    @property
    def begin(self) -> float:
        return self.now if self.since is None else self.since

    @property
    def waited(self) -> float:
        return max(0.0, self.now - self.begin)


Test = Callable[[Known], Iterator[Possibility]]


def possibilities(known: Known) -> tuple[Possibility, ...]:
    """The list, most likely first; empty when every way arrives."""
    if all(way.state == "arrived" for way in known.ways):
        return ()
    return tuple(found for test in _TESTS for found in test(known))


def _hindered(known: Known) -> Iterator[Possibility]:
    """Something that was seen stands in the way: no wait will help."""
    first = {each.code: each for each in reversed(known.findings) if kind_of(each).holds_up_builder}
    for each in reversed(first.values()):
        yield Possibility(f"{each.code}: {each.message}", each.cure, None)


def _not_told(known: Known) -> Iterator[Possibility]:
    if known.unaware and "claim" not in known.told:
        names = " and ".join(shown(name) for name in known.wanted.names)
        yield Possibility(
            f"{known.wanted.builder} was not told of every name, or looked before the records were there.",
            f"Look in its settings whether {names} are connected; press its check button.",
            None,
        )


def _step_left_out(known: Known) -> Iterator[Possibility]:
    later = ("after-records", "after-nameservers", "after-verification")
    for about, step in numbered(known.wanted.steps):
        if step.when in later and f"builder-step:{about}" not in known.told:
            yield Possibility(f"A step at {known.wanted.builder} may be left: {step.title}.", step.instruction, None)


def _own_cache(known: Known) -> Iterator[Possibility]:
    if known.unaware and known.settled_by is not None and known.settled_by > known.now:
        yield Possibility(
            f"{known.wanted.builder} asks through a cache too, and that may hold the old answer.",
            "Wait; then press its check button once.",
            None,
        )


def _own_rhythm(known: Known) -> Iterator[Possibility]:
    usual = known.wanted.https.usual_wait
    if known.unaware and known.waited < usual:
        yield Possibility(
            f"{known.wanted.builder} looks by itself only now and then; usually all is done within {lasting(usual)}.",
            "Wait." if known.pressed else "Press its check button once; pressing it more often does not help.",
            known.wait.next_check(known.now),
        )


def _certificate(known: Known) -> Iterator[Possibility]:
    https = known.wanted.https
    if not known.uncertified or known.waited >= https.longest_wait:
        return
    days = f" It issues on {' and '.join(https.issuing_days)} only." if https.issuing_days else ""
    yield Possibility(
        f"The certificate is ordered once the builder's check has passed; "
        f"that can take {lasting(https.longest_wait)}.{days}",
        "Nothing to do until then.",
        known.wait.next_check(known.now),
    )


def _too_long(known: Known) -> Iterator[Possibility]:
    if known.since is None or known.waited < known.wanted.https.usual_wait:
        return
    late = known.wait.over(known.now)
    if not late:
        longest = lasting(known.wanted.https.longest_wait)
        yield Possibility(
            f"It has waited for {lasting(known.waited)}, longer than usual; up to {longest} is still normal.",
            "Wait; the records stay as they are."
            if known.pressed
            else "Press its check button once; the records stay as they are.",
            known.wait.next_check(known.now),
        )
        return
    yield Possibility(
        f"It has waited for {lasting(known.waited)}, longer than it ever should; "
        "its record of the domain may be stuck, or the domain may still belong to another site or account.",
        "Save the domain again in its settings; if that does not help, remove it there and add it again. "
        "The records stay as they are.",
        None,
    )


_TESTS: tuple[Test, ...] = (_hindered, _not_told, _step_left_out, _own_cache, _own_rhythm, _certificate, _too_long)
