"""Orders of steps to compare, and which one to recommend."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from homepath.core.dns.records import LED_TO, RecordSet
from homepath.core.message import Text, messages, msg
from homepath.core.model.evidence import EdgeSeen
from homepath.core.model.forecast import CertificateGap, Course, Minute, Moved, Order, Outlook, Phase, Situation, Use
from homepath.core.model.survey import Compared
from homepath.core.model.visits import Visit
from homepath.core.plan.difference import LOWERED, has_old_site
from homepath.core.plan.plan import absent_ttl
from homepath.core.site.case import Case

_GOOD = ("good", "ending")


def use_of(case: Case, visit: Visit | None) -> Use:
    """Whether a site is in use. It counts as not in use only where there are no records, or nothing answered."""
    led = any(record.type in LED_TO and record.name in case.wanted.web_names for record in case.zone)
    if not led:
        return "nothing"
    if visit is None:
        return "unknown" if has_old_site(case) else "parked"
    if all(hop.status is None for way in visit.ways for hop in way.hops):
        return "nothing"
    return "in-use" if has_old_site(case) else "parked"


def gap_of(case: Case, visit: Visit | None, edge: EdgeSeen | None) -> CertificateGap | None:
    """The time without a good certificate after the change; None where no one comes over https today, or the builder
    was seen to have its certificate already."""
    if visit is None or (edge is not None and edge.secure) or not has_old_site(case):
        return None
    secured = any(
        way.url.startswith("https:") and way.certificate is not None and way.certificate.state in _GOOD
        for way in visit.ways
    )
    if not secured:
        return None
    https = case.wanted.https
    return CertificateGap(https.usual_wait, https.longest_wait, https.waits_said, bool(case.hsts))


def warned(outlook: Outlook, gap: CertificateGap | None) -> tuple[float, ...]:
    """For each minute, the share of those who come over https that reaches the builder before its certificate is
    there: as long as it usually takes after the records were entered."""
    if gap is None:
        return ()
    begin = outlook.order.change_at
    return tuple(each.new if begin <= each.at < begin + gap.usual else 0.0 for each in outlook.course.minutes)


TYPING = 600
"""Seconds between taking a record out and putting another in, when a person does it in a form."""
SPARE = 1800
"""Seconds shown after the last cache has expired."""
LONGEST = 14 * 86400
NOTICED = 4 * 3600
"""Seconds until someone notices that what did not come along is missing, and enters it."""


def situations(case: Case, servers_ttl: int, held: int = 0) -> list[Situation]:
    """Each name that visitors type and that changes; all of them where the nameservers change.

    `held`: for so many seconds caches may still keep the old answer from before its TTL was lowered.
    """
    moves = case.wanted.hand_over is not None
    found = []
    for name in case.wanted.names:
        wants = [want for want in case.wanted.at(name) if want.record.type in ("A", "CNAME", "ALIAS")]
        old = _asked_for(case.zone.at(name))
        if not moves and (not wants or all(want.met_by(case.zone.get(*want.record.key)) for want in wants)):
            continue
        new_ttl = max((want.record.ttl for want in wants), default=old.ttl if old else LOWERED)
        before = max(old.ttl, held) if old else None
        found.append(Situation(name, before, new_ttl, absent_ttl(case.zone), servers_ttl if moves else 0))
    return found


def _asked_for(there: Sequence[RecordSet]) -> RecordSet | None:
    """The set that answers a visitor's question for an address."""
    kinds = {each.type: each for each in there}
    return kinds.get("CNAME") or kinds.get("A") or kinds.get("AAAA")


def left_behind(compared: Compared, servers_ttl: int, absent: int) -> list[Situation]:
    """What a switch made now would lose, each as a name of its own: mail, verification records, other names."""
    lost = [each for each in compared.hindering if each.old and not each.theirs]
    return [Situation(each.name, each.old_ttl, each.wanted_ttl, absent, servers_ttl) for each in lost]


def too_early(lost: Sequence[Situation], noticed: int = NOTICED) -> Order:
    """The nameservers changed before the new ones have everything; entered there once someone has noticed."""
    title = msg("orders.too-early.title", noticed=noticed)
    phases = tuple((each.name, (*_until_lost(each), Phase(noticed, "new", each.new_ttl))) for each in lost)
    return Order("too-early", title, noticed, phases)


def _until_lost(each: Situation) -> tuple[Phase, Phase]:
    return Phase(0, "old", each.old_ttl or 0, each.servers_ttl), Phase(0, "nothing", each.absent_ttl)


def orders(found: Sequence[Situation], planned_lower: bool, waits: Sequence[int], gap: int = TYPING) -> list[Order]:
    """The plan's own order first, then what people do instead. `waits`: seconds after lowering the TTL, if less than
    the old TTL, to see what impatience costs."""
    longest = max((each.old_ttl for each in found if each.old_ttl is not None), default=None)
    moves = any(each.servers_ttl for each in found)
    lower = longest is not None and longest > LOWERED and not moves
    made: list[Order] = []
    if lower and longest is not None:
        title = msg("orders.orders.title", longest=longest)
        made.append(_lower("lower-first", title, found, longest))
    at_once = msg("orders.orders.at-once") if moves else msg("orders.orders.at-once-2")
    made.append(Order("at-once", at_once, 0.0, tuple((each.name, _replace(each, 0.0)) for each in found)))
    if not planned_lower:
        made.reverse()
    others = [wait for wait in waits if lower and wait != longest]
    made += [_lower(f"wait-{wait}", msg("orders.orders", wait=wait), found, wait) for wait in others]
    if longest is not None and not moves:
        title = msg("orders.orders.title-2", gap=gap)
        made.append(Order("remove-first", title, gap, tuple((each.name, _remove(each, gap)) for each in found)))
    return made


def _replace(each: Situation, at: float) -> tuple[Phase, ...]:
    if each.old_ttl is None:
        return Phase(0, "nothing", each.absent_ttl), Phase(at, "new", each.new_ttl)
    return Phase(0, "old", each.old_ttl, each.servers_ttl), Phase(at, "new", each.new_ttl)


def _lower(key: str, title: Text, found: Sequence[Situation], wait: int) -> Order:
    def phases(each: Situation) -> tuple[Phase, ...]:
        if each.old_ttl is None:
            return _replace(each, wait)
        short = min(LOWERED, each.old_ttl)
        return Phase(0, "old", each.old_ttl), Phase(0, "old", short), Phase(wait, "new", min(LOWERED, each.new_ttl))

    return Order(key, title, wait, tuple((each.name, phases(each)) for each in found))


def _remove(each: Situation, gap: int) -> tuple[Phase, ...]:
    if each.old_ttl is None:
        return _replace(each, gap)
    return Phase(0, "old", each.old_ttl), Phase(0, "nothing", each.absent_ttl), Phase(gap, "new", each.new_ttl)


def horizon(made: Sequence[Order], padlock: int = 0) -> float:
    """Seconds to show: until the last cache of every order has expired, and the builder has its certificate (`padlock`
    seconds after the change), and a little more."""
    ends = [
        after.at + before.ttl + before.servers_ttl
        for order in made
        for _, phases in order.phases
        for before, after in pairwise(phases)
    ]
    ends += [order.change_at + padlock for order in made]
    return min(float(LONGEST), max(ends, default=0.0) + SPARE)


def together(courses: Sequence[Course]) -> Course:
    """All names as one: visitors spread evenly over them; the slowest name decides when all have moved."""
    count = len(courses)
    minutes = tuple(
        Minute(at[0].at, *(sum(getattr(each, kind) for each in at) / count for kind in ("new", "old", "nothing")))
        for at in zip(*(course.minutes for course in courses), strict=True)
    )
    slowest = Moved(
        max(course.moved.half for course in courses),
        max(course.moved.most for course in courses),
        max(course.moved.nearly_all for course in courses),
        max(course.moved.all for course in courses),
    )
    return Course(minutes, slowest, sum(course.outage for course in courses) / count)


def recommend(found: Sequence[Outlook], lowers: bool, use: Use) -> tuple[str, Text]:
    """The key of the best order, and why. No one should meet nothing; a site in use should not be long in between.

    `lowers`: the plan lowers the TTL first. `use`: what visitors meet there today.
    """
    least = min(each.course.outage for each in found)
    calm = [each for each in found if each.course.outage < least + 0.1]
    if lowers:
        best = min(calm, key=lambda each: (each.mixed, each.course.moved.all))
    else:
        best = min(calm, key=lambda each: (each.course.moved.all, each.order.change_at))
    worst = max(found, key=lambda each: each.course.outage)
    reasons: list[Text] = []
    if worst.course.outage >= least + 0.1:
        what = msg("orders.recommend.what") if worst.order.key == "too-early" else msg("orders.recommend.what-2")
        reasons.append(msg("orders.recommend", title=worst.order.title, minutes=worst.course.outage, what=what))
    if lowers and best.order.change_at > 0:
        reasons.append(msg("orders.recommend-2", mixed=best.mixed))
    elif not lowers:
        reasons.append(msg(f"no-detour.{use}"))
    if least >= 0.1:
        reasons.append(msg("orders.recommend-3"))
    return best.order.key, messages(reasons, "clauses") or msg("orders.recommend-4")
