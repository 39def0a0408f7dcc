"""`visit` at a moment when nothing can have arrived yet: no error of the person, and said so."""

from __future__ import annotations

import json
import socket

import jsonschema

from homepath.practice.world import World
from tests.cli.test_story import SCHEMAS
from tests.conftest import START, Run

DOMAIN = "tidewick-kiln.example"


def test_a_visit_before_the_change_says_what_is_expected_and_which_step_changes_it(world: World, homepath: Run) -> None:
    assert homepath(*START).status == 0
    assert homepath("visit").status == 1
    homepath("next")
    done = homepath("visit")
    assert done.status == 1
    assert "Not yet, as expected." in done.out
    assert "Enter the new records" in done.out
    assert "Add the domain at Bricklark" in done.out
    value = json.loads(homepath("visit", "--json").out)
    jsonschema.validate(value, json.loads((SCHEMAS / "visit.schema.json").read_text()))
    assert value["verdict"] == "waiting"
    assert value["expected"]
    assert "wrong-destination" not in {finding["code"] for finding in value["findings"]}


def test_once_something_is_entered_wrongly_it_is_an_error_again(world: World, homepath: Run) -> None:
    assert homepath(*START).status == 0
    homepath("next")
    for value in ("192.0.2.10", "192.0.2.44"):
        assert homepath("practice", "form", "enter", DOMAIN, "@", "A", value).status == 0
    homepath("next")
    done = json.loads(homepath("visit", "--json").out)
    assert (done["verdict"], done["expected"]) == ("broken", "")


def test_through_a_resolver_that_holds_the_old_answer_it_is_a_wait(world: World, homepath: Run) -> None:
    """And through one that does not answer it is no look: exit status 4."""
    assert homepath(*START).status == 0
    homepath("practice", "builder", "connect", DOMAIN)
    homepath("next")
    homepath("watch", "--once")  # the resolvers are asked, and remember the old answer
    assert homepath("send", "--key", "mossgate.key", "--yes", "--early").status == 1
    labels = {each["label"]: each for each in _resolvers(world)}
    plain = next(label for label in labels if "plain" in label)
    value = json.loads(homepath("visit", "--through", plain, "--json").out)
    assert value["verdict"] == "waiting"
    assert "old-answer" in {finding["code"] for finding in value["findings"]}
    with socket.socket(
        socket.AF_INET, socket.SOCK_DGRAM
    ) as silent:  # bound, so the question arrives, and no answer comes
        silent.bind(("127.0.0.1", 0))
        path = world.folder / "network.toml"
        entry = f'[[resolvers]]\naddress = "127.0.0.1:{silent.getsockname()[1]}"\nlabel = "silent cache"\n\n[trust]'
        path.write_text(path.read_text().replace("[trust]", entry))
        lost = homepath("visit", "--through", "silent cache")
    assert (lost.status, "could not be queried" in lost.err) == (4, True)


def _resolvers(world: World) -> list[dict[str, str]]:
    import tomllib

    text = (world.folder / "network.toml").read_text()
    return list(tomllib.loads(text)["resolvers"])
