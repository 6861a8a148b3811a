"""Sections in an order: repeated, on the other side, cut, ended otherwise; and the sheet's arithmetic over them."""

from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from juxtakine.core.counting.checks import About, MusicEights, checked, clock
from juxtakine.core.counting.lines import LineError
from juxtakine.core.counting.orders import Repetition, read_order
from juxtakine.core.counting.sheets import Easier, Foot, Layer, Mark, Phrase, Score, expand
from juxtakine.core.counting.structure import (
    Danced,
    Override,
    Written,
    by_timing,
    eights,
    other_side,
    problems,
    rows,
    unfolded,
)
from juxtakine.core.counting.told_structure import structured

EIGHT = "1 2 3 4 5 6 7 8"
STEPS = (Mark("1", "side R", foot=Foot.RIGHT, weight=Foot.RIGHT), Mark("2", "close", foot=Foot.LEFT, weight=Foot.LEFT))
A1, A2 = Phrase("one", 8, EIGHT, marks=STEPS, section="A"), Phrase("two", 8, "1 2 3 & 4 - 6 7 8")
TAG, B = Phrase("tag", 4, "1 2 3 4", section="tag"), Phrase("bridge", 8, EIGHT, section="B")


def danced(order: str, *phrases: Phrase, **more: object) -> Written:
    return Written("", phrases or (A1, A2, TAG, B), order, **more)  # type: ignore[arg-type]


def named(written: Written) -> list[tuple[str, int]]:
    return [(r.phrase.name, r.phrase.counts) for r in rows(written)]


def test_sections_follow_each_other_in_their_order() -> None:
    order = "a, A other side, tag, B, A cut after 12, A with ending tag"
    assert named(danced(order)) == [
        ("one", 8), ("two", 8), ("one", 8), ("two", 8), ("tag", 4), ("bridge", 8), ("one", 8), ("two", 4), ("one", 8),
        ("two", 4), ("tag", 4),
    ]  # fmt: skip
    made = rows(danced(order))
    assert [r.written for r in made] == [1, 2, 1, 2, 3, 4, 1, 2, 1, 2, 3]
    assert made[7].phrase.line == "1 2 3 & 4"
    assert [m.cue for m in made[2].phrase.marks] == ["side L", "close"]
    again = Phrase("again", 8, EIGHT, section="A")
    assert [r.phrase.name for r in rows(danced("", A1, A2, TAG, again))] == ["one", "two", "tag", "again"]
    assert [r.phrase.name for r in rows(danced("tag, A", A1, A2, TAG, again))] == ["tag", "one", "two", "again"]
    assert named(danced("")) == [("one", 8), ("two", 8), ("tag", 4), ("bridge", 8)]
    assert read_order("A x3", ["A"]) == (Repetition("A"),) * 3


@pytest.mark.parametrize(
    ("order", "reason", "place"),
    [
        ("A, tagg", "there is no section tagg", (3, 7)),
        ("A with ending A", "can't be its own ending", (14, 15)),
        ("A,, B", "a section is missing", None),
        ("A, A cut 16", "A has 16 counts, it can't be cut after 16", (2, 11)),
        ("tag with ending B", "nothing is left of tag", (0, 17)),
    ],
)
def test_what_can_not_be_danced_is_told_at_its_place(order: str, reason: str, place: tuple[int, int] | None) -> None:
    with pytest.raises(LineError, match=reason) as told:
        rows(danced(order))
    assert place is None or (told.value.start, told.value.end) == place
    assert problems(danced(order))[0].reason.startswith("the order:")


@given(st.lists(st.sampled_from(["A", "A other side", "tag", "B", "A cut 3", "A cut 12"]), min_size=1, max_size=9))
def test_the_danced_counts_are_those_of_the_parts(parts: list[str]) -> None:
    lengths = {"A": 16, "A other side": 16, "tag": 4, "B": 8, "A cut 3": 3, "A cut 12": 12}
    sheet = unfolded(danced(", ".join(parts)))
    assert sheet.total == sum(lengths[p] for p in parts)
    assert expand(sheet)[-1].at == sheet.total - 1


@given(
    st.sampled_from(list(Foot)), st.sampled_from([*Foot, None]), st.integers(-8, 8),
    st.sampled_from(["side R", "Left hand", "kick", "LEFT"]),
)  # fmt: skip
def test_the_other_side_of_the_other_side_is_the_first(foot: Foot, weight: Foot | None, turn: int, cue: str) -> None:
    phrase = Phrase("", 8, EIGHT, marks=(Mark("3", cue, foot=foot, weight=weight, turn=turn),), weight=weight)
    assert other_side(other_side(phrase)) == phrase
    assert other_side(phrase) != phrase or (foot is weight is Foot.BOTH) or cue == "kick"


def test_a_repetition_overrides_a_count_and_no_other_time() -> None:
    arms = Mark("1", "side L", parts=frozenset({Layer.ARMS}), score=Score.FREE)
    made = rows(danced("A, A other side", A1, overrides=(Override(2, 1, arms),)))
    assert made[0].phrase.marks == A1.marks
    assert made[1].phrase.marks[0] == arms
    late = Override(2, 1, replace(arms, label="7"))
    assert problems(danced("A, A cut 4", A1, overrides=(late,))) == ()


def test_the_easier_way_is_scored_by_its_timing() -> None:
    easy = replace(A1, easier=Easier("1 - 3 - 5 - 7 -", (Mark("5", "yours", Score.FREE),)))
    full, easier = (unfolded(danced("", easy, dances=d)) for d in (Danced.FULL, Danced.EASIER))
    assert [c.cue for c in expand(full)][:2] == ["side R", "close"]
    counts = expand(easier)
    assert [c.hold for c in counts] == [False, True] * 4
    assert {(c.timed, c.posed) for c in counts if c.label != "5"} == {(True, False)}
    assert counts[4].free


def test_who_marks_it_small_is_scored_by_timing() -> None:
    marks = (Mark("2", score=Score.FREE), Mark("3", score=Score.POSITION),
             Mark("4", "reach", Score.FREE, frozenset({Layer.ARMS})))  # fmt: skip
    counts = expand(by_timing(unfolded(danced("", replace(A1, marks=marks)))))
    assert [(c.timed, c.posed) for c in counts][:8] == [(k not in (1, 2), False) for k in range(8)]
    assert counts[3].cue == "reach"


TURN = Phrase("wall", 8, EIGHT, marks=(Mark("8", turn=2),), section="A")


@pytest.mark.parametrize(
    ("order", "phrases", "walls"),
    [
        ("A, A", (TURN,), 4),
        ("A", (A1,), 1),
        ("A", (replace(TURN, marks=(Mark("8", turn=-4),)),), 2),
        # a sequence that comes back to its wall has two by its tag alone
        ("A, tag", (A1, replace(TAG, marks=(Mark("4", turn=4),))), 2),
    ],
)
def test_walls_are_counted_with_tags_and_bridges(order: str, phrases: tuple[Phrase, ...], walls: int) -> None:
    for said in (1, 2, 4, 8):
        found = [f for f in checked(danced(order, *phrases, walls=said), MusicEights()) if f.about is About.WALLS]
        assert bool(found) == (said != walls)
        if found:
            assert found[0].mend is not None
            assert checked(found[0].mend.written, MusicEights()) == ()


def test_facing_and_weight_that_disagree_are_told_at_their_row_and_mended() -> None:
    after = Phrase("after", 8, EIGHT, marks=(Mark("1", foot=Foot.LEFT, weight=Foot.LEFT),), facing=4,
                   weight=Foot.RIGHT)  # fmt: skip
    sheet = danced("", replace(TURN, marks=(Mark("7", foot=Foot.LEFT, weight=Foot.LEFT, turn=2),)), after)
    facing, weight, free = checked(sheet, MusicEights())
    assert (facing.row, facing.about, facing.text) == (
        2, About.FACING, "Begins to 6, and the turns before it end at 3: these disagree.",
    )  # fmt: skip
    assert (weight.row, weight.about) == (2, About.WEIGHT)
    assert (free.label, free.text) == ("1", "The weight is on the left, and 1 needs that foot free.")
    assert facing.mend is not None
    assert About.FACING not in {f.about for f in checked(facing.mend.written, MusicEights())}


def test_length_landing_quickness_and_names_are_checked() -> None:
    quick = Phrase(
        "quick",
        8,
        "1 e & a 2 3 4 5 6 7 8",
        marks=tuple(Mark(k, foot=Foot.RIGHT) for k in ("1 e", "1 &")),
    )
    bridge = replace(B, name="ONE", counts=6, line="1 2 3 4 5 6")
    sheet = danced("A, tag, B", A1, TAG, bridge, quick, ones=(Fraction(8),))
    assert eights(sheet) == (0, 8, 16, 24)
    assert eights(replace(sheet, ones=(Fraction(4), Fraction(14)))) == (4, 12, 14, 22)
    found = checked(sheet, MusicEights(bpm=150, ends=40))
    assert [(f.about, f.row) for f in found] == [
        (About.LENGTH, 0), (About.TWICE, 3), (About.MUSIC, 3), (About.QUICK, 4),
    ]  # fmt: skip
    assert "begins on the music's 5" in found[2].text
    assert "again 100 ms later" in found[3].text
    assert "its last 11" in checked(sheet, MusicEights(ends=15))[0].text


def test_what_the_camera_can_not_see_is_proposed_as_timing_only() -> None:
    toes = replace(A1, marks=(Mark("1", "toe, snap", foot=Foot.RIGHT), Mark("5", "reach")))
    (found,) = checked(danced("", toes), MusicEights())
    assert (found.about, found.label) == (About.UNSEEN, "1")
    assert found.mend is not None
    (mark, other) = found.mend.written.phrases[0].marks
    assert (mark.score, mark.parts, other.score) == (Score.TIMING, {Layer.FEET, Layer.ARMS}, Score.BOTH)
    assert checked(found.mend.written, MusicEights()) == ()


def test_the_clock_goes_round() -> None:
    assert [clock(k) for k in range(9)] == ["12", "1:30", "3", "4:30", "6", "7:30", "9", "10:30", "12"]


QUARTER = Mark("8", turn=2)
WALLS = Written(
    "", tuple(Phrase(f"row {k}", 8, "1 2 3 4 5 6 7 8", marks=(QUARTER,) if k == 4 else ()) for k in range(1, 5))
)  # fmt: skip


@pytest.mark.parametrize(
    ("said", "order", "walls"),
    [
        ("32 counts, 4 walls, 16 intro, restart on wall 3 after 16 facing 6, bridge of 4 after wall 7",
         "A x2, A cut 16, A x4, bridge", 4),
        ("4 walls", "A x4", 4),
        ("two walls; danced 5 times", "A x5", 2),
        ("tag of 4 after wall 2, tag of 4 after wall 4 and ends on wall 6 after 12",
         "A x2, tag, A x2, tag, A, A cut 12", None),
    ],
)  # fmt: skip
def test_a_structure_that_is_told_in_a_sentence_is_danced_so(said: str, order: str, walls: int | None) -> None:
    made = structured(said, WALLS)
    assert (made.written.order, made.written.walls, made.remarks) == (order, walls, ())
    assert unfolded(made.written).total == sum(r.phrase.counts for r in rows(made.written))


def test_what_the_sentence_says_otherwise_than_the_sheet_is_said() -> None:
    assert structured("48 counts, 4 walls", WALLS).remarks == ("You said 48 counts, and A has 32.",)
    # two quarters are turned before the third wall, and none in it where it is left before its last row
    (remark,) = structured("4 walls, restart on wall 3 after 16 facing 9", WALLS).remarks
    assert remark == "You said that wall 3 ends facing 9, and with the turns as written it is 6."
    assert structured("4 walls, tag after wall 2", WALLS).remarks == ("The tag is taken to have 4 counts.",)
    for wrong, place in (
        ("restart on wall 3 after 40", (0, 26)), ("4 walls, go mad", (9, 15)),
        ("4 walls, restart on wall 3 after 40", (9, 35)),
        ("restart on wall 6 after 8, ends on wall 4 after 8", (0, 25)),
        ("restart on wall 2 after 8, restart on wall 2 after 16", (0, 25)), ("danced 999 times", (0, 16)),
        ("tag of 4 after wall 0", (0, 21)),
    ):  # fmt: skip
        with pytest.raises(LineError) as refused:
            structured(wrong, WALLS)
        assert (refused.value.start, refused.value.end) == place
