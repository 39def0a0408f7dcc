"""Strict reading of the TOML files people write: every problem at once, each with file, line, key and hint."""

from __future__ import annotations

import difflib
import tomllib
from typing import Any, TypeVar, get_args

from pydantic import BaseModel, ConfigDict, ValidationError

from homepath.core.formats.toml_lines import Path, key_lines, line_of
from homepath.core.model.problems import BadInput, Problem


class Table(BaseModel):
    """A table whose unknown keys are mistakes."""

    model_config = ConfigDict(extra="forbid", frozen=True, strict=True)


Schema = TypeVar("Schema", bound=Table)

_SAID = {
    "missing": "is missing",
    "string_type": "should be text in quotes",
    "int_type": "should be a whole number",
    "bool_type": "should be true or false",
    "list_type": "should be a list in square brackets",
    "tuple_type": "should be a list in square brackets",
    "dict_type": "should be a table",
    "model_type": "should be a table",
    "model_attributes_type": "should be a table",
}


def read_table(text: str, file: str, schema: type[Schema], format_name: str) -> Schema:
    """Read `text` as `schema`. Raises BadInput holding every problem found."""
    try:
        data = tomllib.loads(text)
    except tomllib.TOMLDecodeError as error:
        raise BadInput(_syntax(error, text, file)) from error
    lines = key_lines(text)
    if data.get("format") != format_name:
        raise BadInput(
            Problem(
                f"this is not a file of the kind {format_name}",
                file,
                line_of(("format",), lines) or 1,
                "format",
                repr(data.get("format")) if "format" in data else "nothing",
                f'the file must say: format = "{format_name}"',
            )
        )
    try:
        return schema.model_validate(data)
    except ValidationError as error:
        problems = [_problem(detail, file, lines, schema) for detail in error.errors(include_url=False)]
        raise BadInput(*sorted(problems, key=lambda problem: problem.line or 0)) from error


def _syntax(error: tomllib.TOMLDecodeError, text: str, file: str) -> Problem:
    import re

    place = re.search(r"line (\d+)", str(error))
    line = int(place[1]) if place else len(text.splitlines())
    words = str(error).split(" (at")[0]
    return Problem(f"this is not TOML: {words[:1].lower()}{words[1:]}", file, line, hint="check quotes and brackets")


def _problem(detail: Any, file: str, lines: dict[Path, int], schema: type[Table]) -> Problem:
    path: Path = tuple(part for part in detail["loc"] if part != "function-wrap")
    kind, seen = detail["type"], detail.get("input")
    hint = None
    if kind == "extra_forbidden":
        message = "is not a key that belongs here"
        hint = _nearest(str(path[-1]), _keys_at(schema, path[:-1]))
    elif kind == "literal_error":
        message = f"should be one of {detail['ctx']['expected']}"
    elif kind == "value_error":
        message = str(detail["ctx"]["error"])
    else:
        message = _SAID.get(kind, detail["msg"][:1].lower() + detail["msg"][1:])
    shown = None if kind in ("missing", "extra_forbidden") else repr(seen)[:80]
    return Problem(message, file, line_of(path, lines) or 1, _dotted(path), shown, hint)


def _dotted(path: Path) -> str:
    words = ""
    for part in path:
        words += f"[{part + 1}]" if isinstance(part, int) else f".{part}" if words else part
    return words


def _nearest(key: str, known: list[str]) -> str | None:
    near = difflib.get_close_matches(key, known, 1, 0.6)
    return f"did you mean {near[0]}?" if near else f"known here: {', '.join(known)}" if known else None


def _keys_at(schema: type[Table], path: Path) -> list[str]:
    here: Any = schema
    for part in path:
        if isinstance(here, type) and issubclass(here, BaseModel):
            field = next(
                (each for name, each in here.model_fields.items() if part in (name, each.alias)),
                None,
            )
            here = _table_in(field.annotation) if field else None
        elif not isinstance(here, type):
            return []
    return [each.alias or name for name, each in here.model_fields.items()] if here else []


def _table_in(annotation: Any) -> Any:
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        return annotation
    return next((found for part in get_args(annotation) if (found := _table_in(part))), None)
