"""What visitors meet before the change, as far as a visit saw it: a site, a parking page, nothing; and its padlock."""

from __future__ import annotations

from homepath.core.dns.records import LED_TO
from homepath.core.model.evidence import EdgeSeen
from homepath.core.model.forecast import CertificateGap, Outlook, Use
from homepath.core.model.visits import Visit
from homepath.core.plan.lowering import has_old_site
from homepath.core.site.case import Case

_GOOD = ("good", "ending")


def use_of(case: Case, visit: Visit | None) -> Use:
    """Whether a site is in use. That nothing is, is said only where nothing is named there, or nothing answered."""
    led = any(record.type in LED_TO and record.name in case.wanted.web_names for record in case.zone)
    if not led:
        return "nothing"
    if visit is None:
        return "unknown" if has_old_site(case) else "parked"
    if all(hop.status is None for way in visit.ways for hop in way.hops):
        return "nothing"
    return "in-use" if has_old_site(case) else "parked"


def gap_of(case: Case, visit: Visit | None, edge: EdgeSeen | None) -> CertificateGap | None:
    """The time without a good certificate after the change; None where nobody comes over https today, or the builder
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
    """For each minute, the share of those who come over https that is led to the builder before its certificate is
    there: as long as it usually takes after the records were entered."""
    if gap is None:
        return ()
    begin = outlook.order.change_at
    return tuple(each.new if begin <= each.at < begin + gap.usual else 0.0 for each in outlook.course.minutes)
