"""`python -m faults` (make faults): all kinds of faults, seeded; prints what was tried and what survived."""

import argparse
import sys
import tempfile
import time
from pathlib import Path

from faults.asked import ask
from faults.corpus import all_taken, summary
from faults.corpus import wrong as wrong_of
from faults.kills import house, kills
from faults.races import races
from support.clips import another, written
from support.stack import Client, until


def main() -> int:
    parser = argparse.ArgumentParser(prog="faults", description=__doc__)
    parser.add_argument("--kills", type=int, default=105)
    parser.add_argument("--races", type=int, default=102)
    parser.add_argument("--clips", type=int, default=500)
    parser.add_argument("--requests", type=int, default=12, help="of each kind for each operation")
    parser.add_argument("--seed", type=int, default=1)
    said = parser.parse_args()
    wrong: list[str] = []
    with tempfile.TemporaryDirectory(prefix="faults-") as folder:
        root = Path(folder)
        clip = written(root, first_s=3, last_s=4)
        for tries, what in (
            (said.kills, lambda: _killed(root, clip, said.kills, said.seed)),
            (said.races, lambda: _raced(root, clip, said.races, said.seed)),
            (said.requests, lambda: _asked(root, clip, said.requests, said.seed)),
            (said.clips, lambda: _damaged(root, said.clips, said.seed)),
        ):
            if not tries:
                continue
            began = time.monotonic()
            told, found = what()
            wrong += found
            print(f"{told} ({time.monotonic() - began:.0f} s)", *found, sep="\n  ", flush=True)
    return 1 if wrong else 0


Outcome = tuple[str, list[str]]


def _killed(root: Path, clip: Path, tries: int, seed: int) -> Outcome:
    tally = kills(root / "killed", clip.read_bytes(), tries, seed)
    return tally.said("kills"), tally.wrong


def _raced(root: Path, clip: Path, tries: int, seed: int) -> Outcome:
    with house(root / "raced") as home:
        tally = races(home, clip.read_bytes(), tries, seed)
    return tally.said("races"), tally.wrong


def _asked(root: Path, clip: Path, examples: int, seed: int) -> Outcome:
    with house(root / "asked") as home:
        client = Client(home.up())
        routine = client.begin(another(root, clip, "first.mp4"))
        take = client.add_take(routine, another(root, clip, "take.mp4"))
        first = until(lambda: (c := client.routine(routine)["reference"])["measured"] and c["id"])
        made = ask(home.up(), {"routine_id": [routine], "clip_id": [first, take]}, examples, seed)
    return f"odd requests: {made.asked} asked, {len(made.wrong)} answered wrongly", made.wrong


def _damaged(root: Path, n: int, seed: int) -> Outcome:
    folder = root / "damaged"
    folder.mkdir()
    came = all_taken(folder, n, seed)
    return summary(came), wrong_of(came)


if __name__ == "__main__":
    sys.exit(main())
