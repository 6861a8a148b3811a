"""Films the demo clips anew: `python -m juxtakine.demo.shoot [FOLDER]`. Same seeds, same bytes."""

import sys
from pathlib import Path

from juxtakine.demo.film import shoot
from juxtakine.demo.lantern_quay import TAKES, back_scene, reference_scene, take_scene

CLIPS = Path(__file__).parent / "clips"


def main(folder: Path = CLIPS) -> None:
    folder.mkdir(exist_ok=True)
    shoot(reference_scene(), folder / "reference.mp4")
    shoot(back_scene(), folder / "back.mp4")
    for plan in TAKES:
        shoot(take_scene(plan), folder / f"{plan.name}.mp4")


if __name__ == "__main__":
    main(*map(Path, sys.argv[1:]))
