"""Exceptions of ours carry messages; a test reads them as a person would."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager

import pytest

from homepath.core.message import reason
from homepath.core.wording.say import say


@contextmanager
def refused(kind: type[Exception], words: str) -> Iterator[pytest.ExceptionInfo[Exception]]:
    """The block raises `kind`, and what it says in English holds `words` (a regular expression)."""
    with pytest.raises(kind) as caught:
        yield caught
    assert re.search(words, say(reason(caught.value)))
