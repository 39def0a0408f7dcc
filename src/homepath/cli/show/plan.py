"""A plan and a forecast as text."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from homepath.cli.show.paper import Paper, in_the_way, show_findings, show_site, with_causes
from homepath.core.dns.names import shown
from homepath.core.files.sheet import form_name, form_value, what_it_is_for
from homepath.core.findings.registry import kind_of
from homepath.core.message import msg
from homepath.core.model.domain import shown_unicode
from homepath.core.model.findings import Finding
from homepath.core.model.forecast import Caches, Forecast, Minute, Outlook
from homepath.core.model.plan import PURPOSES, Change, Plan, Purpose
from homepath.core.model.steps import Assessment, Step
from homepath.core.plan.going_back import first_seen
from homepath.core.site.case import Case
from homepath.core.wording.overview import planned_of
from homepath.core.wording.say import say
from homepath.core.wording.times import anded, lasting, ttl_words, utc_words
from homepath.core.wording.visit_words import gap_words, left_out
from homepath.core.wording.words import HEADINGS, to_enter

STRIP = 30


def show_forecast(sheet: Paper, forecast: Forecast, assessment: Assessment, figure: Path | None) -> None:
    best = forecast.best
    show_site(sheet, assessment)
    sheet.say(f"Best for {shown(forecast.domain)}: {say(best.order.title)}.")
    sheet.say(f"Why: {say(forecast.because)}.")
    end = lasting(best.course.moved.all)
    sheet.say(f"After {end} no cache that respects TTLs can hold the old records.")
    sheet.heading("Orders of steps, compared; times from the first step")
    rows = [_row(each, each is best) for each in forecast.outlooks]
    sheet.table(rows, header=("", "change", "50 %", "90 %", "99 %", "all moved", "outage", "order"))
    sheet.say("Outage: as if all visitors had found no site for that long.", 2)
    if forecast.gap is not None:
        sheet.heading("Certificate")
        for words in gap_words(forecast):
            sheet.say(words, 2)
    sheet.heading(f"What visitors get: {say(best.order.title)}")
    for minute in _chosen(best):
        sheet.out.write(f"  {lasting(minute.at).rjust(12)}  {_strip(minute)}  {_words(minute)}\n")
    sheet.out.write(f"  {' ' * 12}  ━ new site   · old site   (blank) nothing\n")
    sheet.heading("Assumptions")
    for each in forecast.situations:
        old = f"old record cached for {lasting(each.old_ttl)}" if each.old_ttl is not None else "no record there now"
        moved = f", nameservers {lasting(each.servers_ttl)}" if each.servers_ttl else ""
        sheet.say(f"{shown(each.name)}: {old}, absence {lasting(each.absent_ttl)}{moved}", 2)
    sheet.say(_caches_words(forecast.caches), 2)
    sheet.say(left_out(forecast.caches), 2)
    if forecast.closed is not None:
        sheet.say(
            f"simulated; the closed form for 'replace at once' differs by {100 * forecast.closed:.2f} "
            "percentage points at most",
            2,
        )
    if figure:
        sheet.say(f"Drawn in {figure}.")
    sheet.blank()
    sheet.say("Next: homepath next")


def _row(each: Outlook, best: bool) -> tuple[str, ...]:
    moved = each.course.moved
    times = [lasting(at) for at in (each.order.change_at, moved.half, moved.most, moved.nearly_all, moved.all)]
    outage = "none" if each.course.outage < 0.05 else f"{each.course.outage:.1f} min"
    return ("best" if best else "", *times, outage, say(each.order.title))


def _chosen(outlook: Outlook) -> list[Minute]:
    """Moments that tell the story: the change, and the quarters of the way to the end."""
    minutes = outlook.course.minutes
    begin, end = outlook.order.change_at, outlook.course.moved.all
    wanted = [0.0, *(begin + (end - begin) * part for part in (0, 0.1, 0.25, 0.5, 0.75, 1))]
    found = [min(minutes, key=lambda each: abs(each.at - at)) for at in wanted]
    return list(dict.fromkeys(found))


def _strip(minute: Minute) -> str:
    new = round(STRIP * minute.new)
    old = min(STRIP - new, round(STRIP * minute.old))
    return "━" * new + "·" * old + " " * (STRIP - new - old) + "┤"


def _words(minute: Minute) -> str:
    parts = [f"{100 * share:.0f} % {word}" for word, share in _shares(minute) if share >= 0.005]
    return ", ".join(parts)


def _shares(minute: Minute) -> tuple[tuple[str, float], ...]:
    return ("new", minute.new), ("old", minute.old), ("nothing", minute.nothing)


def _caches_words(caches: Caches) -> str:
    busy = ", ".join(f"{each.per_hour:g}/h ({100 * each.share:.0f} % of visitors)" for each in caches.busy)
    more = f"; {100 * caches.clamped:.0f} % keep answers at least {lasting(caches.floor)}" if caches.clamped else ""
    more += f"; {100 * caches.stale:.0f} % return an expired answer once" if caches.stale else ""
    return f"caches asked for a name {busy}{more}"


_STAYS = {"right": "right already", "undecided": "not decided yet"}


def show_plan(
    sheet: Paper,
    plan: Plan,
    assessment: Assessment,
    case: Case,
    seen_at: float,
    also: Sequence[str] = (),
    elsewhere: Sequence[Finding] = (),
    then: str = "homepath next",
) -> None:
    """Where visitors end, what is deleted and typed, what stays, what was found, and the steps in their order.
    `elsewhere`: what is in the way at the site's other domains."""
    name = shown_unicode(plan.domain)
    spelled = f" (in DNS: {shown(plan.domain)})" if name != shown(plan.domain) else ""
    sheet.say(f"{_HEADS[case.wanted.going]} {name}{spelled}, {_dated(case, seen_at)}")
    show_site(sheet, assessment)
    _show_ends(sheet, plan, case)
    every = with_causes(assessment, plan.findings)
    danger = in_the_way(assessment, every)
    ahead = planned_of(assessment, every)
    findings = [each for each in every if each in danger or each not in ahead]
    show_findings(sheet, [*danger, *elsewhere], assessment)
    _show_changes(sheet, plan, case, assessment, bool(also or case.wanted.destination))
    _show_kept(sheet, plan, assessment)
    planned = {each.name for each in plan.work}
    shown_already = [each for each in findings if kind_of(each).by_records and each.name in planned]
    show_findings(sheet, [each for each in findings if each not in danger and each not in shown_already], assessment)
    for domain in also:
        sheet.blank()
        sheet.say(f"{domain} is to redirect there too: homepath plan --domain {domain}")
    _show_way(sheet, plan)
    _show_steps(sheet, assessment)
    sheet.blank()
    sheet.say(f"Now: {then}")


def _dated(case: Case, seen_at: float) -> str:
    """The time of the plan's facts: going back, the time that is restored."""
    if case.wanted.going != "back":
        return f"from the check of {utc_words(seen_at)}"
    before = case.wanted.back_to or first_seen(case.history) or seen_at
    return f"with the records of {utc_words(before)}"


_HEADS = {"there": "Plan for", "back": "Plan to restore what was before, for", "away": "Plan to leave the builder, for"}


def _show_ends(sheet: Paper, plan: Plan, case: Case) -> None:
    """Where visitors end once it is done."""
    if case.wanted.going == "there":
        sheet.say(f"The site's primary address is {case.wanted.primary_url}.")
        _show_redirects(sheet, plan, case)
    elif case.wanted.going == "back":
        sheet.say("Visitors get what they got before the change. Records that are no part of the change stay.")
    elif plan.work:  # without a record to delete, the names resolve as they do now
        names = anded(shown(name) for name in case.wanted.names)
        sheet.say(f"{names} will not resolve, unless you enter a new site's values instead.")
        sheet.say("The domain itself, your mail and every other record stay.")


def _show_redirects(sheet: Paper, plan: Plan, case: Case) -> None:
    there = plan.redirects
    if there is None:
        return
    names = anded(shown(name) for name in there.names)
    where = say(msg(f"redirect-place.{there.place}"))
    limit = "" if there.secure else " Browsers that try https first will show an error there."
    sheet.say(f"{names} redirects there, {where}: {say(there.reason)}.{limit}")
    if there.others:
        sheet.say(f"It could also be done {'; or '.join(map(say, there.others))}.")


def _show_changes(sheet: Paper, plan: Plan, case: Case, assessment: Assessment, several: bool) -> None:
    """`several`: the site has more domains than this one."""
    notation = case.notation
    work = [change for change in plan.work if change.type != "NS" or change.name != plan.domain]
    servers = [change for change in plan.work if change not in work]
    sheet.blank()
    for change in servers:
        sheet.say(f"At the registrar, the nameservers of {shown(change.name)} change.")
        _show_values(sheet, "now", change.before)
        _show_values(sheet, "then", change.values or ["(not known yet)"])
    if not plan.work:
        if assessment.step is not None and assessment.step.kind == "decide":
            sheet.say("Nothing to enter before that is decided.")
            return
        sheet.say(_NOTHING[case.wanted.going].format(domain=shown_unicode(plan.domain), builder=case.wanted.builder))
        return
    if not work:
        return
    goes, comes = sum(len(change.deleted) for change in work), sum(len(change.entered) for change in work)
    deeds = to_enter(goes, comes, sum(len(change.values) for change in work if change.retimed))
    named = f" --domain {shown(plan.domain)}" if several else ""
    copied = "" if assessment.held else f" To copy them: homepath sheet{named}"
    sheet.say(f"At {notation.host}{_when(assessment)}: {deeds}.{copied}")
    for number, change in enumerate(work, 1):
        _show_change(sheet, number, change, case)
    ttls = {change.ttl for change in work if change.entered and not set(change.before) & set(change.values)}
    if ttls:
        sheet.blank()
        sheet.say(f"TTL of the new records: {', '.join(ttl_words(ttl, notation) for ttl in sorted(ttls))}.", 2)


_NOTHING = {
    "there": "Nothing to enter: {domain} has every record that it needs.",
    "back": "Nothing to restore: the records of {domain} are as before.",
    "away": "Nothing to delete: no record of {domain} points to {builder}.",
}


def _when(assessment: Assessment) -> str:
    """The step in which the plan's records are entered, where the TTL is lowered first."""
    lower = assessment.find("lower-ttl")
    step = assessment.find("enter") if lower is not None and lower.state == "now" else None
    return f", in step {step.number}" if step is not None and step.state == "ahead" and step.number else ""


def _show_change(sheet: Paper, number: int, change: Change, case: Case) -> None:
    what = say(what_it_is_for(change.purpose, change.name, case.wanted.builder))
    at = form_name(change.name, case.domain, case.notation) or "(empty)"
    sheet.blank()
    sheet.say(f"{number}  {what} ({change.type}, name {at})", 2)
    shown_values = [form_value(change.type, value, case.notation) for value in change.entered]
    if change.retimed:
        _show_values(sheet, "now", [f"TTL {ttl_words(change.before_ttl or 0, case.notation)}"])
        _show_values(sheet, "then", [f"TTL {ttl_words(change.ttl, case.notation)}"])
    else:
        _show_values(sheet, "now", [form_value(change.type, value, case.notation) for value in change.deleted])
        _show_values(sheet, "then", shown_values)
    stays = [form_value(change.type, v, case.notation) for v in change.values if v in change.before]
    if stays:
        _show_values(sheet, "stays", stays)
    sheet.say(f"because {say(change.reason)}", 5)


def _show_values(sheet: Paper, word: str, values: Sequence[str]) -> None:
    for number, value in enumerate(values or ["(none)"]):
        label = word if number == 0 else ""
        sheet.value(f"{label.ljust(5)}  {value}", 5)


def _show_kept(sheet: Paper, plan: Plan, assessment: Assessment) -> None:
    kept = [change for change in plan.changes if change.move == "keep" and change.type != "SOA"]
    if not kept:
        return
    if plan.route == "nameservers":
        come = [change for change in kept if change.stays == "comes-along"]
        if come:
            carry = assessment.find("carry")
            entered = carry is not None and carry.state == "done"
            title = "At the new nameservers already" if entered else "Enter at the new nameservers before the switch"
            sheet.heading(title)
            sheet.table([(_kept(c.purpose), f"{c.type} at {shown(c.name)}") for c in come])
        return
    sheet.heading(
        "Everything else stays unchanged" + (", including your mail" if any("mail" in c.purpose for c in kept) else "")
    )
    grouped: dict[str, list[str]] = {}
    for purpose in PURPOSES:
        for change in kept:
            if change.purpose == purpose:
                mark = " (protected in the site file)" if change.stays == "protected" else ""
                word = _STAYS.get(change.stays or "", _kept(purpose))
                grouped.setdefault(word, []).append(f"{change.type} at {shown(change.name)}{mark}")
    sheet.table([(word, ", ".join(what)) for word, what in grouped.items()])


def _kept(purpose: Purpose) -> str:
    return HEADINGS[purpose][:1].lower() + HEADINGS[purpose][1:]


def _show_way(sheet: Paper, plan: Plan) -> None:
    """Why this way, and which others stay open."""
    if plan.reasons or plan.open:
        word = {"records": "edit records", "nameservers": "new nameservers"}[plan.route]
        sheet.heading(f"The route chosen: {word}")
        for reason in plan.reasons:
            sheet.say(reason, 2)
        for route in plan.open:
            sheet.say(f"Still open: homepath plan --route {route}", 2)


def _show_steps(sheet: Paper, assessment: Assessment) -> None:
    steps = [step for step in assessment.steps if step.number is not None]
    sheet.heading("Steps")
    rows = [(str(step.number), _titled(step), _where(step), _wait(step)) for step in steps]
    sheet.columns(rows, header=("", "what", "where", "longest wait"), wrap=1)
    back = [step for step in steps if step.way_back and step.state in ("now", "waiting", "ahead")]
    if back:
        sheet.heading("How to undo this")
        sheet.table([(str(step.number), say(step.way_back)) for step in back])


def _titled(step: Step) -> str:
    state = {"done": "done: ", "undone": "undone: ", "now": "now: ", "waiting": "waiting: "}.get(step.state, "")
    return f"{state}{say(step.title)}"


def _where(step: Step) -> str:
    return step.place


def _wait(step: Step) -> str:
    return lasting(step.longest_wait) if step.longest_wait else ""
