"""Wrong turns and silence on the way: whoever goes back to `next` arrives all the same. `scripts/wander.py` walks
2,000 times; seeds that once failed are kept here."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.practice.wanderer import wander

ONCE_FAILED = (23, 33, 115, 278, 352, 519, 631, 806, 845, 1134, 1352, 1520, 1577)
SOME = range(1, 6)


@pytest.mark.parametrize("seed", [*ONCE_FAILED, *SOME])
def test_a_user_with_two_mistakes_arrives(seed: int, tmp_path: Path) -> None:
    wander(seed, tmp_path)
