"""The site file with its brief and notation, read together, and what is known of its domain."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager, nullcontext
from dataclasses import dataclass, field, replace
from functools import cached_property
from pathlib import Path

from homepath.app.neighbours import neighbours
from homepath.core.assess.assess import assess
from homepath.core.dns.names import Name, absolute
from homepath.core.dns.records import RecordSet, Zone
from homepath.core.files.brief_file import read_brief
from homepath.core.files.site_file import SITE_FILE, read_notation, read_site, write_site
from homepath.core.message import msg
from homepath.core.model.acts import Where
from homepath.core.model.brief import NO_NOTATION, Brief, Notation, Site, unwritten_notation
from homepath.core.model.evidence import Evidence, new_side_zone, present_zone
from homepath.core.model.plan import Change, Plan, Purpose
from homepath.core.model.problems import BadInput, CouldNotCheck, Problem
from homepath.core.model.steps import Assessment
from homepath.core.plan.going_back import taken_back
from homepath.core.plan.plan import changes_on_the_way, make_plan
from homepath.core.site.case import Case, Neighbour
from homepath.core.site.choices import Present, further_site, on_named_route, whole_site, with_owners_word
from homepath.core.site.slips import learned_notation
from homepath.core.site.wanted import Wanted, work_out
from homepath.core.site.zone_facts import handed_over
from homepath.core.web.known import hsts_of
from homepath.files import read_text, write_text
from homepath.journal.evidence import evidence_in, read_evidence
from homepath.journal.journal import Journal, open_journal


@dataclass(frozen=True)
class Project:
    """One folder with its site file. Everything is read strictly when the project is opened.

    `evidence`: all that the journal knew of the domain at that moment; `fresh` reads it again.
    """

    folder: Path
    site: Site
    brief: Brief
    notation: Notation
    evidence: Evidence = field(default_factory=Evidence)
    file: Path = Path(SITE_FILE)
    new_notation: Notation = NO_NOTATION
    """How the form of the host wants records that is to run the domain, where the site file has a `[move]`."""
    memory: Callable[[], AbstractContextManager[Journal]] | None = None
    """Opens the journal where it is not the file in the folder: that of a domain of a list."""
    in_its_folder: bool = False
    """Opened by its own site file: the sites in folders beside it count, and what is learned is written into the file.
    Not so for each row of a list."""
    writes: Callable[[Site], None] | None = None
    """Keeps the site where it has no file of its own."""

    @property
    def domain(self) -> Name:
        return absolute(self.site.domain)

    @cached_property
    def wanted(self) -> Wanted:
        wanted = self._worked_out
        if wanted.going == "back" and wanted.hand_over is not None:
            return taken_back(wanted, self.evidence.contents, self.notation)
        return wanted

    @cached_property
    def _worked_out(self) -> Wanted:
        return work_out(self.site, self.brief, self._typed_in, self._present)

    @cached_property
    def _present(self) -> Present | None:
        survey = self.evidence.survey
        signed = bool(survey and survey.delegation and survey.delegation.signed)
        return Present(self._zone, signed) if survey else None

    @property
    def _typed_in(self) -> Notation:
        """The notation of the DNS host at which the website's records are typed."""
        moving = self.site.move is not None and self.site.route not in ("records", "undo")
        return self.new_notation if moving else self.notation

    def host_of(self, assessment: Assessment) -> str:
        """Who runs the form at which the step is done that is now."""
        there = assessment.step is not None and assessment.step.place == "new DNS host"
        return self.notation_at("new DNS host" if there else "DNS host").host

    def notation_at(self, where: Where) -> Notation:
        """How records are written in the form of one side."""
        if where == "DNS host":
            return with_owners_word(self.notation, self.site)
        if self.site.move is not None:
            return with_owners_word(self.new_notation, self.site)
        return replace(NO_NOTATION, host=self.brief.builder)

    def form_at(self, where: Where) -> Notation:
        """How to type records at one side: its notation, and what typing mistakes there have taught."""
        notation = self.notation_at(where)
        return learned_notation(self.case, notation) if where == self.side_now else notation

    @cached_property
    def _zone(self) -> Zone:
        survey = self.evidence.survey
        return present_zone(survey, self.evidence.contents) if survey else Zone(self.domain)

    @property
    def side_now(self) -> Where:
        """Which side runs the zone that counts now."""
        going_back = self.wanted.going == "back" and self.wanted.hand_over is not None
        return "new DNS host" if handed_over(self.case) != going_back else "DNS host"

    @property
    def new_side_due(self) -> bool:
        """Whether a zone is to begin at other nameservers: a hand-over that is not over."""
        return self.wanted.hand_over is not None and not handed_over(self.case)

    def zone_at(self, where: Where) -> Zone:
        """The zone that is edited at one side, as it was last seen."""
        if where == self.side_now:
            return self.case.zone
        return new_side_zone(self.domain, self.evidence.contents)

    @cached_property
    def case(self) -> Case:
        """The domain as wanted and as it was last seen."""
        survey, evidence = self.evidence.survey, self.evidence
        surroundings = survey.surroundings if survey else Zone(".")
        hsts = hsts_of(self.wanted.names, evidence.hsts)
        notation = with_owners_word(self._typed_in, self.site)
        if notation.host != self.notation.host:  # the present host's parking is known all the same
            notation = replace(
                notation,
                parking_addresses=(*notation.parking_addresses, *self.notation.parking_addresses),
                parking_targets=(*notation.parking_targets, *self.notation.parking_targets),
                parking_host=self.notation.host,
            )
        former = self.notation_at("new DNS host" if self.wanted.going == "back" else "DNS host").host
        since = evidence.job_since
        history = evidence.contents
        return Case(
            self.wanted,
            self._zone,
            surroundings,
            notation,
            survey,
            history,
            hsts,
            job_since=since,
            former=former,
            neighbours=self._neighbours,
        )

    @cached_property
    def _neighbours(self) -> tuple[Neighbour, ...]:
        if not self.in_its_folder or self.evidence.survey is None:
            return ()

        def wants_of(file: Path) -> tuple[RecordSet, ...]:
            return tuple(want.record for want in open_project(file).wanted.wants)

        return neighbours(self.folder, SITE_FILE, self.domain, wants_of)

    def plan(self) -> Plan:
        """The plan from what was last seen. Raises CouldNotCheck when there was no survey."""
        if self.evidence.survey is None:
            raise CouldNotCheck(msg("project.plan", domain=self.domain), msg("project.plan-2"))
        return self._plan

    @property
    def work(self) -> tuple[Change, ...]:
        """What is left to change, by what was last seen, without judging it."""
        return tuple(change for change in changes_on_the_way(self.case) if change.move != "keep")

    @cached_property
    def _plan(self) -> Plan:
        return make_plan(self.case)

    def _with(self, evidence: Evidence) -> Project:
        """The project with newer evidence; what is wanted is worked out again only where the zone differs, and the plan
        is made again only where the case does."""
        made = replace(self, evidence=evidence)
        if "_worked_out" in self.__dict__ and made._present == self._present:
            made.__dict__["_worked_out"] = self._worked_out
        if "_plan" in self.__dict__ and made.case == self.case:
            made.__dict__["_plan"] = self._plan
        return made

    def assess(self, now: float) -> Assessment:
        """The assessment, from what was last seen. Raises CouldNotCheck when there was no survey."""
        return assess(self.case, self.plan(), self.evidence, now)

    def keep_site(self, site: Site) -> None:
        """Write the site into its file, comments kept, or wherever else it is remembered. Raises BadInput."""
        if self.writes is not None:
            self.writes(site)
            return
        text = read_text(self.file, msg("file.site"))
        write_text(self.file, write_site(whole_site(read_site(text, str(self.file)), site), text))

    def keep_form(self) -> None:
        """Write what typing mistakes showed of the DNS host's form into the site file. Raises BadInput."""
        form = learned_notation(self.case, self.notation)
        new = {key: str(getattr(form, key)) for key in form.learned}
        if self.in_its_folder and self.side_now == "DNS host" and new != self.site.form:
            text = read_text(self.file, msg("file.site"))
            write_text(self.file, write_site(replace(read_site(text, str(self.file)), form=new), text))

    def fresh(self, now: float) -> Project:
        """The project with what the journal knows at `now`."""
        if self.memory is None:
            return self._with(evidence_in(self.folder, self.domain, now))
        with self.journal() as journal:
            evidence = read_evidence(journal, self.domain, now)
        return self if evidence is self.evidence else self._with(evidence)

    def journal(self) -> AbstractContextManager[Journal]:
        """The journal, for one piece of work. Raises BadInput when it cannot be used."""
        return open_journal(self.folder) if self.memory is None else self.memory()

    @contextmanager
    def at_hand(self) -> Iterator[Project]:
        """The project with its journal open for a whole command, so that the file is opened once."""
        with self.journal() as journal:
            yield replace(self, memory=lambda: nullcontext(journal))

    def further(self, domain: str, now: float) -> Project:
        """The project of one of the site's further domains. Raises BadInput."""
        return replace(self, site=further_site(self.site, domain), evidence=Evidence()).fresh(now)

    def all_domains(self, now: float) -> list[Project]:
        """This project and those of the site's further domains."""
        return [self, *(self.further(domain, now) for domain in self.site.also)]


def open_project(
    site_file: Path | None, route: str | None = None, domain: str | None = None, now: float | None = None
) -> Project:
    """The project of `site_file`, or of the nearest one from here upward; `route` overrules the site file's.

    `domain` chooses one of the site's further domains. `now`: Unix seconds, the machine's clock where it is not given.
    Raises BadInput with all problems.
    """
    import time

    path = site_file or find_site_file(here())
    site = read_site(read_text(path, msg("file.site"), msg("project.open-project")), str(path))
    site = further_site(site, domain) if domain else site
    site = on_named_route(site, route)
    folder = path.parent
    problems: list[Problem] = []
    brief, notation, new_notation = Brief(""), unwritten_notation(site), NO_NOTATION
    try:
        text = read_text(folder / site.brief, msg("file.brief"), msg("project.open-project-2", path=str(path)))
        brief = read_brief(text, site.brief)
    except BadInput as error:
        problems += error.problems
    try:
        if site.notation:
            text = read_text(
                folder / site.notation, msg("file.notation"), msg("project.open-project-3", path=str(path))
            )
            notation = read_notation(text, site.notation)
    except BadInput as error:
        problems += error.problems
    try:
        if site.move is not None:
            text = read_text(folder / site.move.to, msg("file.notation"), msg("project.open-project-4", path=str(path)))
            new_notation = read_notation(text, site.move.to)
    except BadInput as error:
        problems += error.problems
    if problems:
        raise BadInput(*problems)
    project = Project(folder, site, brief, notation, file=path, new_notation=new_notation, in_its_folder=True)
    project = project.fresh(time.time() if now is None else now)
    _ = project.wanted  # so that a missing value is reported now
    return project


def here() -> Path:
    """The current folder. Raises BadInput when it no longer exists."""
    try:
        return Path.cwd()
    except OSError as error:
        raise BadInput(Problem(msg("project.here"), hint=msg("project.here.hint"))) from error


def find_site_file(start: Path) -> Path:
    """`homepath.toml` here or in the nearest folder above. Raises BadInput."""
    for folder in (start, *start.parents):
        if (folder / SITE_FILE).is_file():
            return folder / SITE_FILE
    raise BadInput(Problem(msg("project.find-site-file", SITE_FILE=SITE_FILE), hint=msg("project.find-site-file.hint")))


def purpose_in(case: Case) -> Callable[[RecordSet], Purpose]:
    """A function that tells the purpose of a record set: the owner's word, or what it looks like."""
    return lambda record: case.purpose(record)[0]
