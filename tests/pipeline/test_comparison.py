"""From the shipped clips' own tracks and sound to what is told: the demo's faults are found, not written down."""

import zlib
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from scipy.signal import resample_poly

from juxtakine.core.comparing.results import Comparison, Method
from juxtakine.core.counting.grids import Grid
from juxtakine.demo import lantern_quay
from juxtakine.demo.camera import Camera
from juxtakine.demo.film import Scene
from juxtakine.demo.load import TRACKS
from juxtakine.demo.look import Look
from juxtakine.demo.music import RATE as MUSIC_RATE
from juxtakine.demo.music import harbour_tune
from juxtakine.media.sound import RATE, read_sound
from juxtakine.media.track_file import load_track
from juxtakine.pipeline.comparison import Align, NoCommonTime, Recording, Said, Sound, compared
from juxtakine.pipeline.outcome import Outcome
from juxtakine.pipeline.result import as_written, packed, result_of, unpacked
from support.clips import REFERENCE, TAKES
from support.dancer import mirrored, track_of
from support.planted import told

GRID = lantern_quay.reference_grid()


def recording(clip: Path) -> Recording:
    samples = read_sound(clip, 0.0)
    assert samples is not None
    return Recording(load_track(TRACKS / f"{clip.stem}.npz"), Sound(samples, 0.0))


def of_demo(comparison: Comparison, reference: Recording, take: Recording) -> Outcome:
    return Outcome.of(result_of(comparison, reference, take), lantern_quay.SHEET)


@pytest.fixture(scope="module")
def reference() -> Recording:
    return recording(REFERENCE)


@pytest.fixture(scope="module")
def results(reference: Recording) -> list[Comparison]:
    return [compared(reference, recording(t), lantern_quay.SHEET, GRID) for t in TAKES]


@pytest.mark.parametrize("n", [0, 1, 2])
def test_every_planted_fault_is_told_and_hardly_another(results: list[Comparison], n: int) -> None:
    found = told(results[n], lantern_quay.TAKES[n].faults)
    assert found.missed == []
    assert len(found.unplanted) <= 0.02 * len(results[n].counts)
    assert found.timed_share >= 0.9


@pytest.mark.parametrize("n", [0, 1, 2])
def test_the_music_says_where_count_1_is(results: list[Comparison], n: int) -> None:
    truth = lantern_quay.take_grid(lantern_quay.TAKES[n]).seconds(0.0) - GRID.seconds(0.0)
    alignment = results[n].alignment
    assert alignment.method is Method.SOUND
    assert alignment.offset_s == pytest.approx(float(truth), abs=0.005)
    assert alignment.certainty > 0.9


def test_the_worst_row_stands_first(results: list[Comparison], reference: Recording) -> None:
    """Three counts late by 150 ms and more and a low arm, against one fault in each of the others."""
    assert results[0].redrill[0] == 3
    assert results[1].redrill[0] == 3
    assert results[2].redrill == (5,)
    assert of_demo(results[0], reference, recording(TAKES[0])).strong == "Redrill Lanterns"


def test_by_hand_the_same_is_found(reference: Recording) -> None:
    plan = lantern_quay.TAKES[0]
    silent = Recording(recording(TAKES[0]).track)
    result = compared(reference, silent, lantern_quay.SHEET, GRID, Said(lantern_quay.take_grid(plan)))
    assert result.alignment.method is Method.MANUAL
    assert result.alignment.constant_lag_ms is None
    assert told(result, plan.faults).missed == []


def test_without_sound_the_movement_tells(reference: Recording) -> None:
    """To within a frame; the dancer's own constant can't be known then."""
    plan = lantern_quay.TAKES[1]
    take = Recording(recording(TAKES[1]).track)
    result = compared(reference, take, lantern_quay.SHEET, GRID)
    truth = lantern_quay.take_grid(plan).seconds(0.0) - GRID.seconds(0.0)
    assert (result.alignment.method, result.alignment.constant_lag_ms) == (Method.MOVEMENT, None)
    assert result.alignment.offset_s == pytest.approx(float(truth), abs=0.033)
    assert told(result, plan.faults).missed == []
    assert "by the movement" in of_demo(result, reference, take).common_time


def test_where_neither_tells_count_1_must_be_said(reference: Recording) -> None:
    """By the sound alone, of which there is none; or by the movement of somebody who hardly moves."""
    take = recording(TAKES[0]).track
    with pytest.raises(NoCommonTime, match="Say where count 1 is in the take"):
        compared(reference, Recording(take), lantern_quay.SHEET, GRID, Said(align=Align.SOUND))
    still = replace(take, image=np.repeat(take.image[:1], len(take.seconds), 0))
    with pytest.raises(NoCommonTime, match="Say where count 1 is in the take"):
        compared(reference, Recording(still), lantern_quay.SHEET, GRID)


def test_a_result_is_kept_without_words_and_told_as_the_sheet_is_now(
    results: list[Comparison], reference: Recording
) -> None:
    kept = packed(result_of(results[0], reference, recording(TAKES[0]), (7,)))
    assert not [word for word in (b" ms", b"too low", b"Redrill") if word in zlib.decompress(kept)]
    again = unpacked(kept)
    assert again is not None
    assert (as_written(again, lantern_quay.SHEET).comparison, again.styles) == (results[0], (7,))
    phrases = [replace(p, name="Bollards") if p.name == "Lanterns" else p for p in lantern_quay.SHEET.phrases]
    renamed = replace(lantern_quay.SHEET, phrases=tuple(phrases))
    assert Outcome.of(as_written(again, renamed), renamed).strong == "Redrill Bollards"
    assert unpacked(zlib.compress(b'{"of": "another version"}')) is None


def test_an_outcome_survives_its_form(results: list[Comparison], reference: Recording) -> None:
    made = of_demo(results[0], reference, recording(TAKES[0]))
    assert Outcome.model_validate_json(made.model_dump_json()).model_dump_json() == made.model_dump_json()
    assert [c.at for c in made.counts] == [c.at for c in made.comparison.counts]


@pytest.mark.parametrize("kind", ["missing", "wrong-side"])
def test_what_has_no_unit_is_told_and_survives_its_form_too(reference: Recording, kind: str) -> None:
    """A row in which somebody stands still, or dances as in a mirror."""
    whole, grid = recording(TAKES[2]), lantern_quay.take_grid(lantern_quay.TAKES[2])
    take = whole.track
    inside = (take.seconds > grid.seconds(7.6)) & (take.seconds < grid.seconds(15.6))
    other = (
        mirrored(take)
        if kind == "wrong-side"
        else replace(
            take,
            image=np.repeat(take.image[inside][:1], len(take.seconds), 0),
            world=np.repeat(take.world[inside][:1], len(take.seconds), 0),
        )
    )
    rows = inside[:, None, None]
    danced = replace(take, image=np.where(rows, other.image, take.image), world=np.where(rows, other.world, take.world))
    own = replace(whole, track=danced)
    made = of_demo(compared(reference, own, lantern_quay.SHEET, GRID), reference, own)
    again = Outcome.model_validate_json(made.model_dump_json())
    assert kind in {f.kind for f in again.comparison.phrases[1].findings}
    assert again.comparison.redrill[0] == 2


def test_who_comes_in_later_as_in_a_canon_is_laid_by_the_music() -> None:
    """The student dances the same eight counts after the instructor, to the same music."""
    beat, later = 60 / lantern_quay.BPM, 8
    music = resample_poly(harbour_tune(lantern_quay.BPM, 64), RATE, MUSIC_RATE).astype(np.float32)
    first = lantern_quay.INTRO_COUNTS * beat
    camera = Camera(position=(0, 1.1, 4.3), fps=15)
    tracks = [
        track_of(Scene(lantern_quay.routine(first + wait * beat), Look(body="f"), camera, None, 3))
        for wait in (0, later)
    ]
    instructor, student = (Recording(t, Sound(music, 0.0)) for t in tracks)
    grid = Grid.from_tempo(first, lantern_quay.BPM)
    result = compared(instructor, student, lantern_quay.SHEET, grid, Said(enters=later))
    assert result.alignment.offset_s == pytest.approx(later * beat, abs=0.005)
    measured = [abs(c.timing.error_ms) for c in result.counts if c.timing.error_ms is not None]
    assert float(np.median(measured)) < 5
    assert len(measured) > 30
