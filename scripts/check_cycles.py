"""Refuse import cycles between files: what imports each other can only be understood together."""

from __future__ import annotations

import sys

import grimp


def cycles(graph: grimp.ImportGraph) -> list[list[str]]:
    """Groups of modules that import each other, directly or in a circle (Tarjan's strongly connected components)."""
    number: dict[str, int] = {}
    lowest: dict[str, int] = {}
    open_ones: list[str] = []
    found: list[list[str]] = []

    def visit(module: str) -> None:
        number[module] = lowest[module] = len(number)
        open_ones.append(module)
        for other in graph.find_modules_directly_imported_by(module):
            if other not in number:
                visit(other)
                lowest[module] = min(lowest[module], lowest[other])
            elif other in open_ones:
                lowest[module] = min(lowest[module], number[other])
        if lowest[module] == number[module]:
            group = open_ones[open_ones.index(module) :]
            del open_ones[open_ones.index(module) :]
            if len(group) > 1:
                found.append(sorted(group))

    for module in graph.modules:
        if module not in number:
            visit(module)
    return found


def main() -> int:
    sys.setrecursionlimit(10_000)
    found = cycles(grimp.build_graph("homepath"))
    for group in found:
        print(f"These files import each other in a cycle: {', '.join(group)}")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
