"""Many walks of the second robot: `scripts/wander.py [--walks 2000] [--first 1] [--workers 2]`, with loopback
alone. Each failed seed is said with its reason; a walk is repeated with `--first SEED --walks 1`."""

from __future__ import annotations

import argparse
import sys
import tempfile
from multiprocessing import Pool
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.practice.wanderer import turns_of, wander


def one(seed: int) -> tuple[int, str]:
    with tempfile.TemporaryDirectory() as folder:
        try:
            wander(seed, Path(folder))
        except Exception as error:
            return seed, f"{turns_of(seed)[1]}: {type(error).__name__}: {str(error)[:300]}"
    return seed, ""


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--walks", type=int, default=2000)
    parser.add_argument("--first", type=int, default=1)
    parser.add_argument("--workers", type=int, default=2)
    asked = parser.parse_args()
    ended = failed = 0
    with Pool(asked.workers, maxtasksperchild=20) as pool:
        for seed, why in pool.imap_unordered(one, range(asked.first, asked.first + asked.walks)):
            failed += bool(why)
            ended += 1
            if why or not ended % 100:
                print(f"{seed}  {why}" if why else f"{ended} ended", flush=True)
    print(f"{asked.walks} walks, {failed} failed")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
