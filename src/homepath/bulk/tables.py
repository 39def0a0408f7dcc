"""Lines of many domains as a Parquet file, for anyone who has a data frame at hand."""

from __future__ import annotations

import os
from collections.abc import Iterable
from contextlib import suppress
from importlib import import_module
from itertools import chain, islice
from pathlib import Path
from typing import Any

from homepath.core.message import msg
from homepath.core.model.problems import BadInput, Problem
from homepath.core.model.times import from_rfc3339

AT_ONCE = 10_000
"""Rows in one group; memory holds one of them."""
_TEXTS = ("domain", "verdict", "stage", "do", "where", "host", "builder", "trouble")
_MOMENTS = ("wait_until", "since", "looked_at", "next_look")
_WORST = ("code", "level", "name", "type", "message", "cure")


def check_parquet(path: Path) -> None:
    """Raises BadInput where no Parquet file can be written."""
    _library()
    if path.is_dir():
        raise BadInput(Problem(msg("tables.check-parquet"), str(path), key="--parquet"))


def write_parquet(path: Path, lines: Iterable[dict[str, Any]]) -> None:
    """One row a domain; moments as UTC timestamps, the act as JSON text, the owner's columns as texts. The file is
    there whole or not at all."""
    import json

    arrow, parquet = _library(), import_module("pyarrow.parquet")
    moment = arrow.timestamp("s", tz="UTC")
    columns = [(name, arrow.string()) for name in _TEXTS]
    columns += [("act", arrow.string()), ("changed", arrow.bool_())]
    columns += [(f"worst_{name}", arrow.string()) for name in _WORST] + [(name, moment) for name in _MOMENTS]
    source = iter(lines)
    first = next(source, None)
    own = [name for name in (first or {"columns": {}})["columns"] if name not in {name for name, _ in columns}]
    schema = arrow.schema([*columns, *((name, arrow.string()) for name in own)])
    source = chain([first] if first else [], source)
    made = path.with_name(f".{path.name}.{os.getpid()}")
    try:
        with parquet.ParquetWriter(str(made), schema) as writer:
            while some := list(islice(source, AT_ONCE)):
                rows = [
                    {**_row(line), "act": json.dumps(line["act"]), **{name: line["columns"].get(name) for name in own}}
                    for line in some
                ]
                writer.write_table(arrow.Table.from_pylist(rows, schema=schema))
        made.replace(path)
    except OSError as error:
        raise BadInput(
            Problem(msg("tables.write-parquet", strerror=error.strerror or str(error)), str(path))
        ) from error
    finally:
        with suppress(OSError):
            made.unlink(missing_ok=True)


def _row(line: dict[str, Any]) -> dict[str, Any]:
    worst = line["worst"] or {}
    return {
        **{name: line.get(name) for name in _TEXTS},
        "changed": line["changed"],
        **{f"worst_{name}": worst.get(name) for name in _WORST},
        **{name: int(from_rfc3339(line[name])) if line.get(name) else None for name in _MOMENTS},
    }


def _library() -> Any:
    try:
        return import_module("pyarrow")
    except ImportError as error:
        hint = msg("install-cluster")
        raise BadInput(Problem(msg("tables.library"), key="--parquet", hint=hint)) from error
