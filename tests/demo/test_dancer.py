"""The made-up dancer is what all accuracy is measured against: it has to do exactly what was written."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from juxtakine.demo.camera import Camera
from juxtakine.demo.film import Scene
from juxtakine.demo.look import Look
from juxtakine.demo.motion import REST, Motion
from juxtakine.demo.music import RATE, harbour_tune, in_a_room
from juxtakine.demo.skeleton import Body

BPM = 120.0
STILL = Motion(BPM, 1.0).key(0, l_elev=20, r_elev=20)
SHOULDER, ELBOW, WRIST, HIP, KNEE, ANKLE = (11, 12), (13, 14), (15, 16), (23, 24), (25, 26), (27, 28)


def channel(motion: Motion, name: str, seconds: float) -> float:
    return float(motion.sample(np.array([seconds]), sway=0)[name][0])


def joints(body: Body, **channels: float) -> np.ndarray:
    return body.landmarks(*body.pose(REST | channels))


@pytest.fixture(scope="module", params=["f", "m"])
def body(request: pytest.FixtureRequest) -> Body:
    return Body(request.param)


@given(st.floats(0, 30), st.floats(0.2, 2), st.floats(-90, 170))
def test_a_key_arrives_at_its_count_and_holds(at: float, over: float, value: float) -> None:
    motion = Motion(BPM, 2.0).key(at, over, l_elev=value)
    arrives = motion.seconds(at)
    assert arrives == pytest.approx(2.0 + at * 0.5)
    assert channel(motion, "l_elev", arrives) == pytest.approx(value, abs=1e-6)
    assert channel(motion, "l_elev", arrives + 3) == pytest.approx(value, abs=1e-6)
    assert channel(motion, "l_elev", arrives - over * 0.5 - 0.01) == pytest.approx(REST["l_elev"], abs=1e-6)


@given(st.integers(-200, 300))
def test_a_delay_moves_the_whole_way_of_its_count_and_no_other(ms: int) -> None:
    motion = Motion(BPM, 2.0).key(2, l_elev=90).key(5, l_elev=20)
    late = motion.delay(2, ms)
    for seconds in (2.7, 2.85, 3.0):
        assert channel(late, "l_elev", seconds + ms / 1000) == pytest.approx(
            channel(motion, "l_elev", seconds), abs=1e-9
        )
    assert channel(late, "l_elev", motion.seconds(5)) == pytest.approx(20)


def test_an_adjustment_reaches_elsewhere_on_its_count_alone() -> None:
    motion = Motion(BPM, 2.0).key(2, l_elev=90, r_elev=90).key(4, l_elev=20, r_elev=20)
    low = motion.adjust(2, l_elev=-40)
    assert channel(low, "l_elev", motion.seconds(2)) == pytest.approx(50)
    assert channel(low, "r_elev", motion.seconds(2)) == pytest.approx(90)
    assert channel(low, "l_elev", motion.seconds(4)) == pytest.approx(20)


@pytest.mark.parametrize(
    "wrong", [lambda m: m.adjust(3, l_elev=5), lambda m: m.delay(3, 50), lambda m: m.key(1, wings=4)]
)
def test_a_fault_that_can_not_be_planted_is_refused(wrong) -> None:  # type: ignore[no-untyped-def]
    with pytest.raises(KeyError):
        wrong(STILL)


def test_people_are_inexact_in_time_and_place_but_not_systematically() -> None:
    keys = Motion(BPM, 0.0)
    for at in range(200):
        keys = keys.key(at, l_elev=90)
    late = np.array([k.late_s for k in keys.inexact(4, ms=10, degrees=2).keys])
    reach = np.array([k.channels["l_elev"] for k in keys.inexact(4, ms=10, degrees=2).keys])
    assert late.std() == pytest.approx(0.010, rel=0.2)
    assert abs(late.mean()) < 0.003
    assert reach.std() == pytest.approx(2, rel=0.2)
    assert abs(reach.mean() - 90) < 0.6


@settings(max_examples=25)
@given(st.floats(0, 170), st.floats(0, 90), st.floats(0, 140), st.floats(-60, 60), st.floats(0, 0.25))
def test_bones_keep_their_length_whatever_is_danced(
    elev: float, az: float, elbow: float, yaw: float, drop: float
) -> None:
    body = Body("f")
    rest = joints(body)
    moved = joints(body, l_elev=elev, l_az=az, l_elbow=elbow, yaw=yaw, drop=drop)
    for a, b in ((SHOULDER[0], ELBOW[0]), (ELBOW[0], WRIST[0]), (HIP[0], KNEE[0]), (KNEE[1], ANKLE[1])):
        assert np.linalg.norm(moved[a] - moved[b]) == pytest.approx(np.linalg.norm(rest[a] - rest[b]), abs=0.004)


def test_sides_and_angles_are_the_dancers_own(body: Body) -> None:
    """Facing the camera (z), the left is at +x; 90 degrees is level and sideways, 180 straight up."""
    level, up = joints(body, l_elev=90, l_elbow=0), joints(body, r_elev=180, r_elbow=0)
    assert joints(body)[SHOULDER[0], 0] > joints(body)[SHOULDER[1], 0]
    arm = level[WRIST[0]] - level[SHOULDER[0]]
    assert abs(np.degrees(np.arctan2(arm[1], arm[0]))) < 8
    raised = up[WRIST[1]] - up[SHOULDER[1]]
    assert raised[1] / np.linalg.norm(raised) > 0.97


def test_bent_knees_lower_the_hips_and_leave_the_feet(body: Body) -> None:
    rest, low = joints(body), joints(body, drop=0.2)
    assert rest[HIP[0], 1] - low[HIP[0], 1] > 0.12
    assert np.abs(rest[list(ANKLE)] - low[list(ANKLE)]).max() < 0.03


def test_a_camera_sees_left_of_the_dancer_on_the_right_and_up_as_up() -> None:
    view = Camera(position=(0, 1, 4), look_at=(0, 1, 0)).view(0.0, 0)
    middle, left, above = view.project(np.array([[0, 1, 0], [0.5, 1, 0], [0, 1.5, 0]]))
    assert middle == pytest.approx([320, 180])
    assert left[0] > middle[0]
    assert above[1] < middle[1]
    orbit = Camera(position=(0, 1, 4), look_at=(0, 1, 0), orbit_deg=90).view(0.0, 0)
    ahead = orbit.project(np.array([[0, 1, 0], [0, 1, 0.5]]))
    assert abs(ahead[1, 0] - ahead[0, 0]) > 30, "from the side, going forward is going sideways"


def test_the_same_scene_gives_the_same_truth_and_another_seed_another() -> None:
    def made(seed: int) -> np.ndarray:
        return Scene(STILL.key(2, l_elev=90), Look(body="f"), Camera(shake_m=0.01), None, seed).truth().image

    assert np.array_equal(made(3), made(3))
    assert not np.array_equal(made(3), made(4))


def test_the_tune_keeps_its_tempo() -> None:
    """The strongest period of its loudness is a count or a simple multiple of one."""
    tune = harbour_tune(108, 64)
    loud = np.abs(tune[: len(tune) // 441 * 441]).reshape(-1, 441).max(1)
    loud = loud - loud.mean()
    likeness = np.correlate(loud, loud, "full")[len(loud) - 1 :]
    period = (40 + int(likeness[40:70].argmax())) / 100
    assert period == pytest.approx(60 / 108, abs=0.011)
    assert np.abs(tune).max() <= 1


def test_a_room_adds_echo_and_noise_and_no_delay() -> None:
    tune = harbour_tune(108, 8)
    heard = in_a_room(tune, 3)
    assert len(heard) == len(tune)
    lags = range(-40, 41)
    n = RATE
    fits = [float(np.dot(tune[n : 2 * n], heard[n + k : 2 * n + k])) for k in lags]
    assert lags[int(np.argmax(fits))] == 0
    assert not np.allclose(heard, tune * (heard @ tune) / (tune @ tune), atol=1e-3)
