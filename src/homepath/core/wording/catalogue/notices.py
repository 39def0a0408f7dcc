"""What commands report besides steps and findings: what became of an update, ends of waits, what to try."""

from __future__ import annotations

SENTENCES = {
    # decide
    "decide.servers.hint": "the builder's own belong into its values: value:NAME=TEXT",
    "decide.value.hint": "it asks for: {known}",
    "decide.value.hint-2": "it asks for no values",
    # entering
    "entering.entering.known": "none now",
    "entering.entering.said": "this step has nothing to type",
    # returning
    "returning.moment-of.hint": "as `homepath log` shows it, such as 2026-03-02T09:08:00Z",
    "returning.stopped": "{domain:name} is on its way to {builder}; there is nothing to stop.",
    "returning.stopped-2": "{domain:name} goes on to {builder}. Next: homepath next",
    # visit
    "visit.turned": "You are on the way back, so these ways are not to lead to the builder's site.",
    "visit.turned-2": "You are leaving the builder, so these ways are not to lead to its site.",
    "visit.unknown": "Nothing was looked at before, so what is to be expected of these ways now is not known.",
    "edge.serves": "the builder's servers serve the name",
    "edge.unaware": "the builder's servers do not serve the name",
    "edge.silent": "the builder's servers could not be queried",
    # start
    "file.brief": "the brief",
    "start.load-brief-2": "name it with --brief FILE",
    "file.notation": "the notation",
    "start.by-domain.hint": "further domains are: {known}",
    "start.by-domain.hint-2": "name it with --also",
    # project
    "file.site": "the site file",
    "file.zone": "the exported zone",
    "project.open-project": "make one with `homepath start`",
    "project.open-project-2": "it is named in {path}, key brief",
    "project.open-project-3": "it is named in {path}, key notation",
    "project.open-project-4": "it is named in {path}, key move.to",
    # next
    "wait-over.caches": "{name}: old records have expired from caches",
    "wait-over.other": "{name}: this wait is over",
    "after-wait": "{title}. Run: homepath next",
    "registration-ends": "{name}: the registration ends",
    "registration-ends.then": "Renew it at {registrar} well before; without it site and mail are gone.",
    "certificate-ends": "{name}: the certificate ends",
    "certificate-ends.then": "It should be renewed by itself some weeks before. Run: homepath visit",
    "file.calendar": "the calendar",
    # rdap
    "rdap.service-for": "this is no bootstrap file",
    "rdap.read-domain-object": "this is not JSON, or nested without end",
    "rdap.read-domain-object-2": "this is no domain object",
    # master file
    "master-file.directives": "$INCLUDE is not followed: another file could be anything",
    "master-file.directives-2": "$GENERATE is not carried out: one line could stand for millions; export the entries themselves",
    # site rows
    "site-rows.columns.hint-2": "is it {near}?",
    "site-rows.columns.hint-3": "the first line names the columns, such as: domain,primary,brief,account",
    "site-rows.row.said": "this row has {count_cells} cells, and there are {count_names} columns",
    # strict
    "strict.number.kind": "a whole number",
    "strict.read-file.hint": 'the file must say: format = "{format_name}"',
    "strict.nearest": "did you mean {near}?",
    "strict.nearest-2": "known here: {known}",
    # update
    "update.look": "`homepath next` finds out by looking, and says so.",
    "update.compare": "Compare the key file with the one of the DNS host: name, algorithm and secret must agree.",
    "update.of-the-key": "does not know this key",
    "update.of-the-key-2": "has another secret for this key",
    "update.of-the-key-3": "says that the clocks differ too much",
    "update.of-the-key-4": "Set this machine's clock right, or ask the DNS host about theirs; five minutes are allowed.",
    "update.of-the-key-5": "refuses the signature",
    "update.refusals": "a name that should be unused holds records now",
    "update.refusals-2": "a record that should not exist is there now",
    "update.refusals-3": "a record is no longer what the plan was made from",
    "update.refusals-4": "a name that should exist is gone",
    # registration
    "registration.ask-registry": "no registration data was asked for: the network file names no bootstrap",
    "registration.ask-registry-2": "no registration service is known for {domain:name}",
    "registration.ask-registry-3": "registration data could not be read: {error}",
    # opened
    "opened.kept.hint": "run it first: homepath many {path}",
    "opened.kept.hint-2": "a new row is known after the next homepath many",
    # run
    "run.run.hint": "look at this folder without --cluster, or make a table of its sites",
    # looking
    "looking.quickly": "{domain} is as it was; of {later} names and types with nothing there, a part is asked each time",
    "looking.wholly": "{domain}: nothing spreads there, so no resolver is asked",
    "looking.wholly.said": "something went wrong that nobody foresaw: {name}: {error}",
    # survey
    "survey.whole": "the whole zone was seen",
    "survey.counted": "{sets} record sets at {servers} servers",
    # send
    "lost-update.sent": "The update of {at:utc}, whose answer was lost, was carried out: all of it is there.",
    "lost-update.not-done": "The update of {at:utc}, whose answer was lost, was not carried out: everything is as before.",
    "lost-update.partly": "The update of {at:utc}, whose answer was lost, is not there as it was sent; the zone was changed again meanwhile.",
}
