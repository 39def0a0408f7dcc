"""What can go wrong, grouped by who must act: the person who typed something, or a server far away."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from homepath.core.message import Text, messages


@dataclass(frozen=True, slots=True)
class Problem:
    """One mistake in something a person wrote."""

    message: Text
    file: str | None = None
    line: int | None = None
    key: str | None = None
    seen: str | None = None
    hint: Text | None = None

    @property
    def place(self) -> str:
        where = f"{self.file}, line {self.line}" if self.file and self.line else self.file or ""
        return f"{where}: {self.key}" if where and self.key else where or self.key or ""


class HomePathError(Exception):
    """Everything that this tool raises on purpose. `hint` says what to do."""

    def __init__(self, message: Text, hint: Text = "") -> None:
        super().__init__(message)
        self.message, self.hint = message, hint


class BadInput(HomePathError):
    """The person must fix something; all problems of one input come together."""

    def __init__(self, *problems: Problem) -> None:
        super().__init__(messages((problem.message for problem in problems), "clauses"))
        self.problems: Sequence[Problem] = problems


class CouldNotCheck(HomePathError):
    """A server or file could not be asked, so nothing can be said."""


class NotSent(CouldNotCheck):
    """Nothing went out at all: no one was there to take it."""


class Refused(HomePathError):
    """A server or a safety check said no, and nothing was changed."""
