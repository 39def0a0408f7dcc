"""Wrong turns and silence on the way: whoever goes back to `next` arrives all the same. `scripts/wander.py` walks
2,000 times; some seeds that once failed are kept here."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.practice.wanderer import wander

ONCE_FAILED = (23, 115, 352, 519, 631, 1134, 1352, 1577)
SOME = range(1, 4)


@pytest.mark.parametrize("seed", [*ONCE_FAILED, *SOME])
def test_a_user_with_two_mistakes_arrives(seed: int, tmp_path: Path) -> None:
    wander(seed, tmp_path)
