from dataclasses import replace

import numpy as np
import pytest

from juxtakine.core.movement.body import SWAPPED, Landmark, Part
from juxtakine.core.movement.cleaning import clean, unswapped
from juxtakine.core.movement.errors import torso_length
from juxtakine.core.movement.features import LIMBS, features, wrapped
from juxtakine.core.movement.filling import filled_in
from juxtakine.core.movement.moving import moves_off
from juxtakine.core.movement.tracks import Track
from juxtakine.demo.camera import Camera
from juxtakine.demo.film import Scene
from juxtakine.demo.lantern_quay import BPM
from juxtakine.demo.look import Look
from juxtakine.demo.motion import Motion
from support.dancer import ESTIMATED_FPS, danced, reference, routine, track_of

LEGS = [Landmark.LEFT_KNEE, Landmark.RIGHT_KNEE, Landmark.LEFT_ANKLE, Landmark.RIGHT_ANKLE]
ARM_ENDS = [Landmark.LEFT_ELBOW, Landmark.RIGHT_ELBOW, Landmark.LEFT_WRIST, Landmark.RIGHT_WRIST]


@pytest.fixture(scope="module")
def track() -> Track:
    return track_of(Scene(routine(), Look(body="m"), Camera(position=(0, 1.1, 4.3)), None, 3))


def off_px(made: Track, true: Track, marks: list[Landmark], rows: slice) -> float:
    """Largest distance from the truth, in pixels, of what the cleaned movement believes on these frames."""
    moved = clean(made)
    columns = [np.interp(true.seconds[rows], moved.seconds, moved.image[:, m, k]) for m in marks for k in (0, 1)]
    want = [true.image[rows, m, k] for m in marks for k in (0, 1)]
    return float(np.nanmax(np.abs(np.array(columns) - np.array(want))))


def test_cleaning_leaves_a_true_track_in_place(track: Track) -> None:
    """Zero phase: no lag, and a few pixels of a body that is some 200 high."""
    assert off_px(track, track, [*LEGS, Landmark.LEFT_WRIST, Landmark.RIGHT_WRIST], slice(60, 700)) < 4
    moved = clean(track)
    inside = slice(60, 700)
    wrist = np.interp(track.seconds[inside], moved.seconds, moved.image[:, Landmark.LEFT_WRIST, 1])
    true = track.image[inside, Landmark.LEFT_WRIST, 1]
    lags = range(-3, 4)
    misses = [np.abs(wrist[5:-5] - np.roll(true, k)[5:-5]).mean() for k in lags]
    assert lags[int(np.argmin(misses))] == 0


ARMS_OF_TRACK, LEGS_OF_TRACK = list(range(11, 23)), list(range(23, 33))


def swapped(track: Track, marks: list[int], rows: slice) -> Track:
    """As the estimator does: left told as right, in the picture and in space."""
    image, world = track.image.copy(), track.world.copy()
    for array in (image, world):
        array[rows, marks] = array[rows][:, [SWAPPED[m] for m in marks]]
    return replace(track, image=image, world=world)


@pytest.mark.parametrize(
    "marks", [LEGS_OF_TRACK, ARMS_OF_TRACK, ARMS_OF_TRACK + LEGS_OF_TRACK], ids=["legs", "arms", "all"]
)
def test_what_the_estimator_swapped_is_put_right(track: Track, marks: list[int]) -> None:
    wrong = swapped(track, marks, slice(200, 260))
    assert off_px(wrong, track, [*LEGS, Landmark.LEFT_WRIST, Landmark.RIGHT_WRIST], slice(195, 265)) < 6


@pytest.mark.parametrize(("bpm", "degrees"), [(BPM, 90), (170, 180)], ids=["at ease", "as quick as may be"])
def test_a_body_that_turns_round_is_not_taken_for_swapped(bpm: float, degrees: float) -> None:
    """Left and right change places in the picture, the quicker the less is seen of the way, and no label does."""
    turning = Motion(bpm, 1).stance(2, width=0.4, l_elev=80, r_elev=80)
    for at in range(3, 9):
        turning = turning.stance(at, yaw=degrees * (at - 2), width=0.26, l_elev=60, r_elev=60)
    track = track_of(Scene(turning, Look(body="m"), Camera(fps=ESTIMATED_FPS), None, 4))
    assert (unswapped(track.image, track.world, torso_length(track.image)) == np.arange(33)).all()


def test_a_spike_is_not_believed(track: Track) -> None:
    image = track.image.copy()
    image[300, Landmark.LEFT_WRIST] += 90
    assert off_px(replace(track, image=image), track, [Landmark.LEFT_WRIST], slice(290, 310)) < 6


def led_astray(track: Track, rows: slice) -> Track:
    """On these frames somebody beside the dancer is followed, who dances something else."""
    image = track.image.copy()
    image[rows] = np.roll(track.image, 100, axis=0)[rows] + [130, 0]
    return replace(track, image=image)


@pytest.mark.parametrize("frames", [6, 45], ids=["for a moment", "for a second and a half"])
def test_somebody_else_is_not_taken_for_the_dancer(track: Track, frames: int) -> None:
    wrong = led_astray(track, slice(300, 300 + frames))
    moved = clean(wrong)
    inside = (moved.seconds > track.seconds[300]) & (moved.seconds < track.seconds[299 + frames])
    assert inside.any()
    assert not moved.seen[inside].any()
    for rows in (slice(280, 298), slice(302 + frames, 320 + frames)):
        assert off_px(wrong, track, [*LEGS, Landmark.LEFT_WRIST], rows) < 6


@pytest.mark.parametrize("rows", [slice(0, 40), slice(300, 340)], ids=["from the start", "for a second"])
def test_who_is_taken_for_standing_on_their_head_is_not_seen(track: Track, rows: slice) -> None:
    """From one frame to the next; but who turns over is."""
    hips = track.image[:, [Landmark.LEFT_HIP, Landmark.RIGHT_HIP]].mean(1, keepdims=True)
    image = track.image.copy()
    image[rows] = (2 * hips - image)[rows]
    moved = clean(replace(track, image=image))
    inside = (moved.seconds > track.seconds[rows][0]) & (moved.seconds < track.seconds[rows][-1])
    assert not moved.seen[inside].any()
    assert moved.seen[~inside & (moved.seconds > track.seconds[rows][-1] + 0.1)][:, LEGS].all()
    over = np.clip((np.arange(len(image)) - 300) / 40, 0, 1) * 2 * np.pi
    turn = np.moveaxis(np.array([[np.cos(over), np.sin(over)], [-np.sin(over), np.cos(over)]]), 2, 0)
    assert clean(replace(track, image=(track.image - hips) @ turn + hips)).seen[:, Landmark.LEFT_SHOULDER].all()


def test_who_goes_on_in_another_place_is_seen_in_both(track: Track) -> None:
    """As where two clips were put together."""
    image = track.image.copy()
    image[300:] += [130, 0]
    moved = clean(replace(track, image=image))
    assert moved.seen[:, LEGS].all()


def test_what_was_not_seen_stays_not_seen(track: Track) -> None:
    visibility = track.visibility.copy()
    visibility[300:360, Landmark.LEFT_WRIST] = 0.1
    movement = clean(replace(track, visibility=visibility))
    at = np.searchsorted(movement.seconds, track.seconds[330])
    assert np.isnan(movement.image[at, Landmark.LEFT_WRIST]).all()
    assert np.isfinite(movement.image[at, Landmark.RIGHT_WRIST]).all()


def test_an_arm_that_the_body_hides_is_made_up_and_not_seen_while_a_leg_is(track: Track) -> None:
    visibility = track.visibility.copy()
    visibility[300:360, [Landmark.LEFT_ELBOW, Landmark.LEFT_KNEE]] = 0.4
    seen = clean(replace(track, visibility=visibility)).seen[300:360]
    assert not seen[10:-10, Landmark.LEFT_ELBOW].any()
    assert seen[:, Landmark.LEFT_KNEE].all()


@pytest.mark.parametrize(("degrees", "far"), [(100, "LEFT"), (-100, "RIGHT"), (78, "LEFT"), (40, None), (170, None)])
def test_of_who_stands_sideways_the_arm_on_the_far_side_is_not_believed(degrees: float, far: str | None) -> None:
    """Both are said to be as visible, and that well enough from the front."""
    standing = Motion(BPM, 1).stance(2, yaw=degrees, width=0.26, l_elev=40, r_elev=40).key(16, l_elev=50, r_elev=50)
    track = track_of(Scene(standing, Look(body="m"), Camera(fps=ESTIMATED_FPS), None, 4))
    visibility = track.visibility.copy()
    visibility[:, ARM_ENDS] = 0.85
    moved = clean(replace(track, visibility=visibility))
    stands = (moved.seconds > standing.seconds(4)) & (moved.seconds < standing.seconds(14))
    for mark in ARM_ENDS:
        assert set(moved.seen[stands, mark]) == {not mark.name.startswith(f"{far}_")}, mark
    assert moved.seen[stands][:, LEGS].all()


def test_a_track_with_nobody_gives_an_empty_movement(track: Track) -> None:
    nobody = replace(track, followed=np.zeros(len(track.seconds), bool))
    assert len(clean(nobody).seconds) == 0


def test_features_know_neither_size_nor_place_of_the_body(track: Track) -> None:
    """The same points twice as large and elsewhere in the picture say the same."""
    moved = replace(track, image=track.image * 2 + 40, width=track.width * 2 + 80, height=track.height * 2 + 80)
    one, other = features(clean(track)), features(clean(moved))
    assert np.nanmax(np.abs(one.vectors[..., :2] - other.vectors[..., :2])) < 1e-6
    assert np.nanmax(np.abs(one.level - other.level)) < 1e-6


def test_facing_turns_with_the_dancer() -> None:
    """The routine turns 35 degrees to the dancer's right on count 38 and back on 39."""
    made = danced(routine(), orbit_deg=0)
    facing = [float(made.at(np.array([routine().seconds(at)])).facing[0]) for at in (36, 37, 39)]
    assert facing[1] - facing[0] == pytest.approx(-35, abs=12)
    assert facing[2] - facing[0] == pytest.approx(0, abs=8)


def test_a_trunk_that_the_estimator_sees_half_turned_is_told_by_how_narrow_it_looks(track: Track) -> None:
    """By its line in space alone the same 35 degrees would be 19."""
    trunk = [Landmark.LEFT_SHOULDER, Landmark.RIGHT_SHOULDER, Landmark.LEFT_HIP, Landmark.RIGHT_HIP]
    flatter = track.world.copy()
    flatter[:, trunk, 2] *= 0.5
    made = features(clean(replace(track, world=flatter)))
    before, turned = (float(made.at(np.array([routine().seconds(at)])).facing[0]) for at in (36, 37))
    assert turned - before == pytest.approx(-35, abs=10)


@pytest.mark.parametrize("degrees", [-30.0, 25.0])
def test_who_is_turned_looks_as_from_a_camera_that_went_round_the_other_way(degrees: float) -> None:
    """A camera that is nearer sees the near limbs longer; all else is alike."""
    made, other = danced(routine(), orbit_deg=0, seed=5), danced(routine(), orbit_deg=-degrees, seed=5)
    turned = made.turned(np.full(len(made.seconds), degrees))
    unlike, as_turned = (float(np.nanmedian(np.abs(m.vectors - other.vectors)[..., 0])) for m in (made, turned))
    # what is widest of somebody seen from one side throughout is a little less than their shoulders
    assert np.nanmedian(wrapped(turned.facing - other.facing)) == pytest.approx(0, abs=6)
    assert as_turned < unlike / 2


@pytest.mark.parametrize(("base", "more"), [(0, 30), (45, 35), (-50, -30), (20, -60)])
def test_the_head_is_told_by_the_degrees_it_turns_on_the_neck(base: float, more: float) -> None:
    """In profile too, where little of it shows in the picture."""
    looking = Motion(BPM, 1).key(0, 0.5, turn=base).key(8, 0.5, turn=base + more).key(12, 0.5, turn=base)
    looking = looking.key(16, 0.5, l_elev=60)
    there = danced(looking, orbit_deg=0).at(looking.first_s + np.array([6, 10, 14]) * 60 / BPM).head
    assert there[1] - there[0] == pytest.approx(more, abs=10)
    assert there[2] == pytest.approx(there[0], abs=5)


def test_of_who_looks_away_from_the_camera_no_head_is_told() -> None:
    assert np.isnan(danced(Motion(BPM, 1).key(12, 0.5, turn=5), orbit_deg=180).head).all()


def test_feet_apart_towards_a_high_camera_are_both_on_the_floor() -> None:
    """The nearer one stands lower in the picture; a foot that is lifted is none to step with all the same."""
    apart = Motion(BPM, 1)
    for at in range(1, 20):
        apart = apart.stance(at, yaw=70, width=0.35 + 0.25 * (at % 2))
    kicked = apart.key(10, 0.5, l_lift=0.3).key(12, 0.5, l_lift=0.3).key(13, 0.5, l_lift=0)
    camera = Camera(position=(0, 1.5, 4.3), fps=ESTIMATED_FPS)
    for motion, seen in ((apart, True), (kicked, False)):
        made = features(clean(track_of(Scene(motion, Look(body="m"), camera, None, 3))))
        feet = made.at(motion.first_s + np.array([3.2, 7.2, 11.2, 15.2]) * 60 / BPM).feet
        assert np.isfinite(feet).all(1).tolist() == [True, True, seen, True]


def test_level_falls_where_the_dancer_sinks() -> None:
    sunk, tall = (float(reference().at(np.array([routine().seconds(at)])).level[0]) for at in (30, 43))
    assert tall - sunk > 0.15


def test_who_comes_nearer_to_the_camera_sinks_no_lower_and_grows_no_longer() -> None:
    """Two metres towards it: the body is half as large again in the picture."""
    walking = Motion(BPM, 1)
    for at in range(1, 25):
        walking = walking.stance(at, z=-0.9 + 1.8 * abs((at - 1) % 12 - 6) / 6, l_elev=80, r_elev=80)
    made = danced(walking, orbit_deg=0)
    there = made.at(walking.first_s + np.arange(2, 24) * 60 / BPM)
    for of_one in (there.level, np.linalg.norm(there.vectors[:, LIMBS.index(Part.LEFT_FOREARM), :2], axis=1)):
        assert np.ptp(of_one) < 0.15 * np.median(of_one)  # in the picture, two fifths


def test_frames_in_between_are_never_invented_over_a_gap() -> None:
    times = np.arange(20) / 30
    values = np.sin(times)[::2, None]
    values[4:6] = np.nan
    out = filled_in(times, times[::2], values)
    assert np.isnan(out[7:11]).all()
    assert np.allclose(out[:7, 0], np.sin(times)[:7], atol=1e-3)


@pytest.mark.parametrize("broken", ["image", "seconds"])
def test_a_track_that_is_none_is_refused(track: Track, broken: str) -> None:
    with pytest.raises(ValueError, match="track"):
        replace(track, **{broken: getattr(track, broken)[::-1][:-1] if broken == "image" else track.seconds[::-1]})


def test_the_moment_when_somebody_moves_off_is_that_of_the_first_step() -> None:
    """A stance is reached on its count over three quarters of a count; who moves from the first frame on, did not."""
    first, beat = 4.0, 60 / BPM
    standing = Motion(BPM, first).stance(0, width=0.5)
    moving = Motion(BPM, 0.0)
    for count in range(1, 12):
        standing = standing.key(count, 0.75, l_elev=40 + 80 * (count % 2), r_elev=100 - 60 * (count % 2))
        moving = moving.key(count - 1, 0.9, l_elev=40 + 80 * (count % 2))
    assert moves_off(danced(standing)) == pytest.approx(first - 0.75 * beat, abs=0.15)
    assert moves_off(danced(moving)) is None
