"""What is promised in a hostile world, with the bounds as the code has them, and the test that holds each."""

from __future__ import annotations

from homepath.app import page_files
from homepath.core.dns import walk
from homepath.core.files import strict
from homepath.core.model import visits
from homepath.core.web import hops
from homepath.files import BIGGEST, LONGEST, SILENCE
from homepath.journal import journal
from homepath.net import asker, datagrams, fetch, octets, session, update

ROWS: dict[str, list[tuple[str, str]]] = {
    "Queries to nameservers": [
        (
            f"One walk asks at most {walk.MOST_QUESTIONS} questions, follows {walk.MOST_ALIASES} aliases, and resolves "
            f"the addresses of nameservers {walk.MOST_DEPTH} deep.",
            "tests/core/test_walk.py::test_walks_end_by_themselves",
        ),
        (
            f"Of one zone the addresses of {walk.MOST_NAMES} nameservers are queried at the same time.",
            "tests/core/test_walk.py::test_a_hundred_names_without_glue_cost_a_few_questions_at_once",
        ),
        (
            f"{walk.MOST_SERVERS} addresses of a zone are kept; several names at one address are queried once, and after "
            f"{walk.MOST_SILENT} silent ones a query counts as unanswered.",
            "tests/core/test_walk.py::test_many_servers_at_one_address_are_asked_once_and_so_many_are_kept",
        ),
        (
            "A query is sent twice, 2 s apart. An answer to either counts, however late, and Home Path says that it was late.",
            "tests/net/test_slow_dns.py::test_a_late_answer_to_the_first_try_is_an_answer_and_said_to_be_late",
        ),
        (
            f"After {datagrams.GIVE_UP} queries in a row without an answer, the rest are not sent to that address; at most "
            f"{datagrams.WIDEST} are under way to one address, {asker.AT_ONCE} to all.",
            "tests/net/test_hostile_dns.py::test_a_dead_place_does_not_hold_up_hundreds_of_questions",
        ),
        (
            "An answer counts only from the address asked, with the id, the question and the capitals that were sent.",
            "tests/net/test_hostile_dns.py::test_answers_that_do_not_fit_are_dropped_and_counted",
        ),
        (
            "Names are sent in random capitals; a server that does not repeat them is queried without.",
            "tests/net/test_hostile_dns.py::test_capitals_guard_a_question_and_an_old_server_is_asked_plainly",
        ),
        (
            f"An answer has at most {octets.MOST_RECORDS} records; the quick decoder and the library's agree.",
            "tests/net/test_hostile_dns.py::test_both_readers_give_equal_answers",
        ),
        (
            "What no server answered is unknown: it is never absent or a difference, and no plan builds on it.",
            "tests/core/test_unknown.py::test_a_question_that_no_server_answers_stops_the_plan_at_its_name",
        ),
        (
            "No lost answer, of either DNS host or of the registry, makes a switch of nameservers seem safe.",
            "tests/core/test_silence.py::test_no_lost_answer_makes_a_switch_look_safe",
        ),
        (
            "No lost answer makes a survey forget a record, or a watch better than it was.",
            "tests/core/test_silence.py::test_no_lost_answer_makes_a_survey_forget_anything",
        ),
        (
            "No lost reply makes a visit better, or blames the domain's DNS for a silent builder.",
            "tests/core/test_silence.py::test_no_lost_reply_makes_a_visit_better_or_blames_the_domains_dns",
        ),
        (
            "A domain about which a server is silent slows down no other, and a query that was not sent does not count as silent.",
            "tests/net/test_sharing.py::test_a_domain_that_a_server_is_silent_about_holds_up_no_other",
        ),
        (
            f"A transfer is at most {update.BIGGEST // 1_000_000} MB and {update.PATIENCE:g} s; with a key its first "
            "and last message must be signed.",
            "tests/net/test_transfer.py::test_with_a_key_the_first_and_the_last_message_must_be_signed",
        ),
    ],
    "Time and places": [
        (
            f"A command, however much it checks, asks nothing new after {session.LONGEST:g} s; a request lasts at "
            f"most {fetch.PATIENCE:g} s.",
            "tests/net/test_hostile_ways.py::test_a_server_that_is_slow_for_ever_holds_no_visit_longer_than_a_look_may_last",
        ),
        (
            "No address that a public server cannot have is contacted, whatever names it.",
            "tests/net/test_contact.py::test_what_no_public_server_has_is_refused",
        ),
        (
            "Without IPv6 on this computer, the silence of an IPv6 address counts as nothing.",
            "tests/net/test_contact.py::test_an_address_of_ipv6_is_not_asked_where_this_machine_has_none",
        ),
        (
            "A resolver that the network puts in place of the nameservers is named, and none of its answers counts.",
            "tests/cli/test_faults.py::test_a_network_that_answers_dns_queries_itself_is_named",
        ),
        (
            "A listed resolver is queried at exactly its address and port, and never asked for pages.",
            "tests/net/test_contact.py::test_a_listed_resolver_is_asked_at_exactly_its_place_and_gets_no_request_for_pages",
        ),
        (
            "A network file whose roots are on this machine contacts nothing off it.",
            "tests/net/test_contact.py::test_a_closed_world_contacts_only_itself",
        ),
    ],
    "Pages and certificates": [
        (
            f"A way has at most {hops.MOST_HOPS} redirects; each page is requested once, however many addresses pass through it.",
            "tests/net/test_hostile_ways.py::test_each_page_is_asked_for_once_however_many_ways_lead_over_it",
        ),
        (
            f"Of a page {fetch.BIGGEST_HTML:,} octets are read; what is packed unasked is not unpacked.",
            "tests/net/test_hostile_web.py::test_a_page_that_never_ends_is_read_as_far_as_it_goes",
        ),
        (
            f"An address of a page has at most {visits.LONGEST} characters and is encoded once, where it enters.",
            "tests/core/test_web.py::test_addresses_are_encoded_once_where_they_enter",
        ),
        (
            "An answer needs a status that is a number, over HTTP/2 too.",
            "tests/net/test_hostile_ways.py::test_an_http2_answer_needs_a_usable_status",
        ),
        (
            "A certificate is judged as browsers do; one that cannot be read is untrusted.",
            "tests/core/test_web.py::test_certificates_are_judged_as_browsers_do_and_named_rightly",
        ),
        (
            "Everything that the libraries below can throw is one of a few causes.",
            "tests/net/test_hostile_web.py::test_every_foreign_exception_is_translated",
        ),
    ],
    "Files": [
        (
            f"A file written by hand is at most {strict.BIGGEST // 1_000_000} MB, {strict.DEEPEST} deep; any other input "
            f"{BIGGEST // 1_000_000} MB.",
            "tests/test_files.py::test_files_made_to_cost_are_refused",
        ),
        (
            f"A packed document is unpacked to {page_files.MOST_UNPACKED // 1_000_000} MB at most, of a PDF "
            f"{page_files.MOST_SHEETS} pages are read, and whatever a document makes a library do is one sentence.",
            "tests/test_page_files.py::test_what_holds_no_text_is_refused_with_what_to_do",
        ),
        (
            "What a page does not say outright gets into the brief only when a person ticks it.",
            "tests/core/test_pasted.py::test_what_the_page_does_not_say_outright_is_left_to_a_person",
        ),
        (
            "`$GENERATE` and `$INCLUDE` are refused.",
            "tests/core/test_hard_cases.py::test_directives_that_could_stand_for_anything_are_refused",
        ),
        (
            "Many records of one name are read in linear time.",
            "tests/core/test_hard_cases.py::test_many_rows_of_one_name_take_linear_time",
        ),
        (
            "A file is written whole or not at all; a link stays one, and a file keeps its mode.",
            "tests/test_files.py::test_a_link_stays_a_link_and_its_file_is_replaced",
        ),
        (
            "A device or a pipe is written to and stays what it is.",
            "tests/test_files.py::test_a_pipe_is_written_to_and_stays_a_pipe",
        ),
        (
            f"A pipe may keep silent for {SILENCE:g} s and last {LONGEST:g} s; a device without end is refused.",
            "tests/test_files.py::test_a_pipe_is_read_to_its_end_and_one_that_is_silent_is_given_up",
        ),
        (
            "A pipe among the site files of a folder is named and holds nothing up.",
            "tests/test_files.py::test_a_pipe_among_the_site_files_of_a_folder_is_named_and_holds_nothing_up",
        ),
        (
            "What a killed run left beside a file is swept.",
            "tests/test_files.py::test_what_a_killed_run_left_is_swept_and_nothing_else",
        ),
    ],
    "The journal, and what is sent": [
        (
            f"{journal.MOST_HEARD:,} answers and {journal.MOST_VALUES} checks of a kind are kept, "
            f"{journal.MOST_CONTENTS:,} contents of a record set.",
            "tests/test_journal.py::test_the_size_is_bounded_and_what_matters_stays",
        ),
        (
            "No cell of a list's state stops the other rows, whatever it holds.",
            "tests/test_damage.py::test_no_cell_of_a_lists_state_stops_the_other_rows",
        ),
        (
            "A clock that was ahead leaves no domain of a list unchecked.",
            "tests/test_damage.py::test_a_clock_that_was_ahead_leaves_no_domain_unlooked_at",
        ),
        (
            "A worker that was stopped is replaced.",
            "tests/test_damage.py::test_a_worker_that_gives_no_sign_of_life_is_replaced",
        ),
        (
            "Two folders for one domain never undo each other's work.",
            "tests/cli/test_two_folders.py::test_two_folders_for_one_domain_know_each_other",
        ),
        (
            "If a user makes two mistakes and servers sometimes do not answer, the site still gets up and nothing is lost.",
            "tests/practice/test_wanderer.py::test_a_user_with_two_mistakes_arrives",
        ),
        (
            "No row, whatever it holds, stops a command: it is named and left out.",
            "tests/test_journal.py::test_no_row_of_the_journal_stops_a_command",
        ),
        (
            "An update is in the journal before it goes out; a lost answer is settled by the next check.",
            "tests/cli/test_lost_answers.py::test_a_lost_answer_is_unknown_and_found_out_by_looking",
        ),
        (
            "Where the journal cannot be written, nothing is sent.",
            "tests/cli/test_lost_answers.py::test_a_journal_that_cannot_be_written_sends_nothing",
        ),
        (
            "If the journal fails after the update, both are reported.",
            "tests/cli/test_lost_answers.py::test_a_journal_that_fails_after_the_update_is_said",
        ),
    ],
    "The terminal": [
        (
            "Anything unforeseen is one sentence, exit status 4, and a file with the details.",
            "tests/cli/test_shell.py::test_what_nobody_foresaw_is_one_sentence_with_the_place_of_the_details",
        ),
        (
            "Closed streams, a full disk, a deleted folder and an ASCII terminal end in a sentence.",
            "tests/cli/test_shell.py::test_a_place_that_takes_or_gives_nothing",
        ),
        (
            "A terminal that goes away ends the live view and the command.",
            "tests/cli/test_shell.py::test_a_terminal_that_goes_away_ends_the_live_view",
        ),
        (
            "Control characters from outside are spelled out.",
            "tests/net/test_hostile_dns.py::test_control_characters_in_a_text_record_are_spelled",
        ),
    ],
}


def page() -> str:
    """The page as Markdown."""
    text = (
        "# What is promised in a hostile world\n\nEverything that comes from the network or from a file may be made to "
        "do harm. These are the bounds, as the code has them, each with the test that holds it. Generated; a minute of "
        "`scripts/fuzz.py` also runs over every reader.\n"
    )
    for title, rows in ROWS.items():
        text += f"\n## {title}\n\n| promise | test |\n| --- | --- |\n"
        text += "".join(f"| {promise} | `{test}` |\n" for promise, test in rows)
    return text
