"""Measures the shipped clips anew with the real pipeline: `python -m juxtakine.demo.measure`, after `shoot`."""

import tempfile
from pathlib import Path

from juxtakine.demo.load import TRACKS
from juxtakine.demo.shoot import CLIPS
from juxtakine.media.track_file import save_track
from juxtakine.pipeline.tracks import Shelf
from juxtakine.settings import settings


def main() -> None:
    for clip in sorted(CLIPS.glob("*.mp4")):
        with tempfile.TemporaryDirectory() as empty:
            made = Shelf(Path(empty), settings().models).track(clip, settings().model)
        save_track(made, TRACKS / f"{clip.stem}.npz")


if __name__ == "__main__":
    main()
