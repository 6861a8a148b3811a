"""A sheet read off a made-up dancer whose movement is exactly known, and sheets held against it."""

from dataclasses import replace
from functools import cache

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from juxtakine.core.counting.grids import Grid
from juxtakine.core.counting.lines import read_line, rewritten
from juxtakine.core.counting.sheets import Easier, Foot, Mark, Phrase, Sheet
from juxtakine.core.counting.structure import Danced, Written, as_instructed, other_side, unfolded
from juxtakine.core.proposing.against import Against, Disagreement, against
from juxtakine.core.proposing.proposal import Proposal, ProposedKind
from juxtakine.core.proposing.taking import mend, takeable, taken
from juxtakine.core.telling.clip_beside_sheet import told
from juxtakine.core.watching.repeats import Repeat
from juxtakine.demo import lantern_quay
from juxtakine.demo.camera import Camera
from juxtakine.demo.film import Scene
from juxtakine.demo.look import Look
from juxtakine.demo.motion import Motion
from juxtakine.pipeline.comparison import Recording
from juxtakine.pipeline.proposing import proposed
from support.dancer import ESTIMATED_FPS, FIRST_S, GRID, SHEET, mirrored, track_of

LENGTHS = [p.counts for p in SHEET.phrases]
HIGH = (150.0, 20.0, 90.0)


def instructor(motion: Motion, orbit_deg: float = 0) -> Recording:
    camera = Camera(position=(0.1, 1.1, 4.6), look_at=(-0.1, 0.95, 0), orbit_deg=orbit_deg, fps=ESTIMATED_FPS)
    return Recording(track_of(Scene(motion, Look(body="f"), camera, None, 5)))


@cache
def quay() -> Proposal:
    return proposed(instructor(lantern_quay.routine(FIRST_S)), GRID, LENGTHS)


def arms(places: list[float], bpm: float = 100, over: float = 0.8) -> Recording:
    """Both arms go to another height at each of these places, in counts."""
    motion, before = Motion(bpm, FIRST_S), -1.0
    for k, at in enumerate(places):
        high = {f"{s}_elev": HIGH[(k + (s == "l")) % 3] for s in "lr"}
        motion = motion.key(at, min(over, 0.92 * (at - before)), drop=0.05 * (k % 2), **high)
        before = at
    return instructor(motion)


def test_the_lines_of_a_routine_are_those_that_were_danced() -> None:
    lines = [r.phrase.line for r in quay().rows]
    written = [p.line for p in SHEET.phrases]
    # the tag's first two counts are the dancer's own, and the instructor does something on them
    assert lines == written
    assert all(c.certainty > 0.5 for r in quay().rows for c in r.cells)


def test_the_foot_that_steps_is_told_and_whether_it_takes_the_weight() -> None:
    """Side right, close, side left, touch, and a kick with the left."""
    motion = Motion(100, FIRST_S).key(0, 0.7, r_fx=-0.36).key(0, 0.8, x=-0.15)
    motion = motion.key(1, 0.7, l_fx=-0.14).key(1, 0.8, x=-0.25)
    motion = motion.key(2, 0.7, l_fx=0.16).key(2, 0.8, x=0.0)
    motion = motion.key(3, 0.7, r_fx=-0.02).key(4, 0.7, r_fx=-0.36).key(4, 0.8, x=-0.25)
    motion = motion.key(5, 0.7, l_legw=1.0, l_hip=60.0, l_knee=10.0).key(6, 0.7, l_legw=0.0, l_hip=0.0, l_knee=0.0)
    row = proposed(instructor(motion), Grid.from_tempo(FIRST_S, 100), [7]).rows[0]
    marks = {m.label: m for m in row.phrase.marks}
    feet = {label: marks[label].foot for label in "123456"}
    assert feet == {"1": Foot.RIGHT, "2": Foot.LEFT, "3": Foot.LEFT, "4": Foot.RIGHT, "5": Foot.RIGHT, "6": Foot.LEFT}
    assert (marks["1"].cue, marks["6"].cue) == ("side R", "kick L")
    assert (marks["1"].weight, marks["4"].weight, marks["6"].weight) == (Foot.RIGHT, None, None)


@settings(max_examples=6)
@given(st.lists(st.sampled_from([1.0, 1.0, 1.0, 2.0, 0.5]), min_size=8, max_size=14))
def test_whatever_is_danced_on_counts_and_halves_is_read_and_nothing_else(gaps: list[float]) -> None:
    places = [sum(gaps[:k]) for k in range(len(gaps))]
    counts = int(max(places)) + 1
    found = proposed(arms(places), Grid.from_tempo(FIRST_S, 100), [counts])
    cells = {s.label: float(s.at) for s in read_line(found.rows[0].phrase.line, counts)}
    told_ = sorted(cells[c.label] for c in found.rows[0].cells if c.kind is ProposedKind.ARRIVES)
    assert told_ == places


def test_a_move_over_two_counts_goes_on_and_a_rest_is_a_hold() -> None:
    slow = proposed(arms([0, 2, 4, 6], over=1.9), Grid.from_tempo(FIRST_S, 100), [7]).rows[0]
    assert [slow.cells[k].kind for k in (1, 3, 5)] == [ProposedKind.GOES_ON] * 3
    quick = proposed(arms([0, 2, 4, 6], over=0.7), Grid.from_tempo(FIRST_S, 100), [7]).rows[0]
    assert quick.phrase.line == "1 - 3 - 5 - 7"


@pytest.mark.parametrize("eighths", [2, -2, 4, 1, -1])
def test_a_turn_is_told_with_its_size_and_side(eighths: int) -> None:
    motion, yaw = Motion(100, FIRST_S), 0.0
    for count in range(8):
        yaw -= 45.0 * eighths if count == 3 else 0.0
        motion = motion.stance(count, yaw=yaw, width=0.3, l_elev=HIGH[count % 3], r_elev=HIGH[(count + 1) % 3])
    row = proposed(instructor(motion), Grid.from_tempo(FIRST_S, 100), [8]).rows[0]
    assert {m.label: m.turn for m in row.phrase.marks if m.turn} == {"4": eighths}


def test_in_the_mirror_sides_are_swapped_back() -> None:
    plain = instructor(lantern_quay.routine(FIRST_S))
    flipped = proposed(Recording(mirrored(plain.track)), GRID, LENGTHS, mirrored=True)
    feet = [[(m.label, m.foot) for m in r.phrase.marks if m.foot] for r in flipped.rows]
    assert feet == [[(m.label, m.foot) for m in r.phrase.marks if m.foot] for r in quay().rows]


@pytest.mark.parametrize("first", [0, 1])
def test_rows_danced_again_on_the_other_side_are_named_and_called_alike(first: int) -> None:
    """Also where they begin with a hold, in which the pose of the row before stands on."""
    one = lantern_quay.routine(FIRST_S)
    keys = [k for k in one.keys if first <= k.count < 8]
    other = tuple(replace(k, at=k.at + 8, count=k.count + 8, channels=_other(k.channels)) for k in keys)
    rows = proposed(instructor(replace(one, keys=(*keys, *other))), GRID, [8, 8]).rows
    like = rows[1].like
    assert isinstance(like, Repeat)
    assert (like.like, like.mirrored) == (1, True)


def _other(channels: object) -> dict[str, float]:
    said = dict(channels)  # type: ignore[call-overload]  # a mapping of floats
    swapped = {("r" if k[0] == "l" else "l") + k[1:] if k[1:2] == "_" else k: v for k, v in said.items()}
    signed = ("x", "yaw", "tilt", "side", "twist", "hside", "turn")
    turned = {"l_fx", "r_fx", "l_fyaw", "r_fyaw"}
    return {k: -v if k in signed or k in turned else v for k, v in swapped.items()}


def held(sheet: Sheet) -> list[Against]:
    return against(sheet, quay().shown)


def changed(row: int, **change: object) -> Sheet:
    phrases = list(SHEET.phrases)
    phrases[row - 1] = replace(phrases[row - 1], **change)  # type: ignore[arg-type]  # fields of a phrase
    return Sheet("", tuple(phrases))


def test_of_a_right_sheet_nothing_is_said() -> None:
    assert held(SHEET) == []


def test_two_counts_left_out_are_told_from_the_row_after_them() -> None:
    tag = SHEET.phrases[3]
    short = replace(tag, counts=2, line="1 2", marks=tag.marks[:2])
    (found,) = held(Sheet("", (*SHEET.phrases[:3], short, *SHEET.phrases[4:])))
    assert (found.kind, found.row, found.shown) == (Disagreement.SHIFTED, 5, 2)
    assert told(found) == "From here on the clip lies 2 counts later than written."


def test_a_hold_that_is_missing_and_one_that_is_danced_are_told_and_mended() -> None:
    quay_line = SHEET.phrases[0].line
    for label, wrong, kind in (("4", "4", Disagreement.NOTHING_ARRIVES), ("3", "-", Disagreement.HOLD)):
        marks = tuple(m for m in SHEET.phrases[0].marks if m.label != label)
        sheet = changed(1, line=rewritten(quay_line, 8, label, wrong), marks=marks)
        (found,) = held(sheet)
        assert (found.kind, found.row, found.label) == (kind, 1, label)
        mended = mend(Written("", sheet.phrases), found)
        assert mended is not None
        assert mended.written.phrases[0].line == quay_line
        assert held(Sheet("", mended.written.phrases)) == []


def test_a_row_on_the_other_side_is_one_remark_and_its_mend_is_the_row() -> None:
    (found,) = held(Sheet("", (other_side(SHEET.phrases[0]), *SHEET.phrases[1:])))
    assert (found.kind, found.row) == (Disagreement.SIDE, 1)
    mended = mend(Written("", (other_side(SHEET.phrases[0]), *SHEET.phrases[1:])), found)
    assert mended is not None
    assert mended.written.phrases[0] == SHEET.phrases[0]


def test_a_turn_that_is_not_danced_is_told_with_both_sizes() -> None:
    marks = tuple(replace(m, turn=2) if m.label == "3" else m for m in SHEET.phrases[0].marks)
    (found,) = held(changed(1, marks=marks))
    assert (found.kind, found.label, found.written, found.shown) == (Disagreement.TURN, "3", 2, 0)
    assert told(found) == "Written is a quarter to the right on 3, and the clip shows no turn."


def test_taking_writes_what_is_not_written_and_leaves_what_is() -> None:
    own = Phrase("Quay", 8, "1 2 3 - 5 6 7 8", marks=(Mark("1", "my own word"),))
    written = Written("", (own,))
    proposed = quay()
    assert takeable(written, proposed) == [1, 2, 3, 4, 5, 6]
    made = taken(written, proposed, [1, 3])
    assert [p.line for p in made.phrases] == [p.line for p in SHEET.phrases[:3]]
    cues = {m.label: m.cue for m in made.phrases[0].marks}
    assert cues["1"] == "my own word"
    assert cues["3"]
    # another line is the student's, and so is what stands on it
    mine = Written("", (replace(own, line="1 2 3 4 5 6 7 8"),))
    assert taken(mine, proposed, [1]).phrases == mine.phrases


def test_the_easier_way_that_the_student_dances_is_not_held_against_the_clip() -> None:
    easier = replace(SHEET.phrases[0], easier=Easier("1 - - - 5 - - -"))
    written = Written("", (easier, *SHEET.phrases[1:]), dances=Danced.EASIER)
    assert held(unfolded(as_instructed(written))) == []
    assert taken(written, quay(), [1]).dances is Danced.EASIER
    assert taken(written, quay(), [1]).phrases[0].easier == easier.easier


def test_where_the_sheet_goes_on_after_the_clip_nothing_is_said() -> None:
    longer = Sheet("", (*SHEET.phrases, Phrase("again", 8, "1 2 3 4 5 6 7 8")))
    shown = proposed(instructor(lantern_quay.routine(FIRST_S)), GRID, [*LENGTHS, 8]).shown
    assert against(longer, shown) == []
