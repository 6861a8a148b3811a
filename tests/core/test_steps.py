"""Step names that know their counts, feet, weight and turn; counts that are numbered anew."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from juxtakine.core.counting.checks import MusicEights, checked
from juxtakine.core.counting.dictionary import DICTIONARY, PatternError, Step, Style, actions_of, look_up
from juxtakine.core.counting.lines import LineError, read_line
from juxtakine.core.counting.pasted import PastedError, read_pasted
from juxtakine.core.counting.renumbering import renumbered, repaced
from juxtakine.core.counting.sheets import Foot, Mark, Phrase, Score, expand
from juxtakine.core.counting.steps import filled, line_of
from juxtakine.core.counting.structure import Written, unfolded

L, R = Foot.LEFT, Foot.RIGHT


def test_a_line_of_steps_fills_a_phrase() -> None:
    made = filled("walk R L, shuffle R, rock L recover, coaster L")
    assert (made.counts, made.line) == (8, "1 2 3 & 4 5 6 7 & 8")
    assert [(m.label, m.cue) for m in made.marks] == [
        ("1", "walk R"), ("2", "walk L"), ("3", "shuffle R"), ("3 &", "close"), ("4", "step"), ("5", "rock L"),
        ("6", "recover R"), ("7", "coaster L"), ("7 &", "close"), ("8", "fwd"),
    ]  # fmt: skip
    assert [m.weight for m in made.marks] == [R, L, R, L, R, L, R, L, R, L]
    assert made.weight is L


def test_turns_are_taken_towards_or_away_from_the_foot_that_begins() -> None:
    assert [m.turn for m in filled("pivot R").marks] == [0, -4]
    assert [m.turn for m in filled("pivot L").marks] == [0, 4]
    assert [m.turn for m in filled("pivot R ¼ L").marks] == [0, -2]
    assert [m.turn for m in filled("grapevine R 1/4 right").marks] == [0, 0, 2, 0]
    assert sum(m.turn for m in filled("full turn L").marks) == -8


def test_a_touch_takes_no_weight_and_the_free_foot_is_taken_where_none_is_said() -> None:
    made = filled("grapevine R, touch, step", L)
    assert [m.weight for m in made.marks] == [R, L, R, None, None, L]
    assert [m.foot for m in made.marks[-2:]] == [L, L]


def test_terms_without_fixed_counts_take_as_many_as_are_said() -> None:
    made = filled("body roll 3, hold 2, step R")
    assert (made.counts, made.line) == (6, "1 ~ ~ - - 6")


def test_styles_and_own_steps_decide_what_a_name_means() -> None:
    assert filled("triple R").line == "1 & 2"
    assert filled("triple R", style=Style.CLOGGING).line == "1 2 3 4 &"
    assert [m.weight for m in filled("shuffle R", style=Style.TAP).marks] == [None, None]
    own = Step("lantern swing", "", actions_of("1s! swing, 2- look"))
    assert filled("lantern swing L", own=[own]).line == "1 2"
    for one, other in (("triple", "shuffle"), ("replace", "recover"), ("hook", "hitch")):
        assert look_up(one) is look_up(other) is not None


def test_an_unknown_name_is_kept_with_near_ones() -> None:
    made = filled("walk R, shufle L")
    (strange,) = made.unknown
    assert ("walk R, shufle L"[strange.start : strange.end], strange.near[0]) == ("shufle", "shuffle")
    assert [m.cue for m in made.marks] == ["walk R", "shufle"]


@pytest.mark.parametrize("pattern", ["side", "1x step", "2s!, 1o!", "1s! a, 1s! b"])
def test_a_pattern_that_is_none_is_refused(pattern: str) -> None:
    with pytest.raises(PatternError):
        actions_of(pattern)


def test_the_dictionary_is_whole_and_consistent() -> None:
    assert len(DICTIONARY) >= 60
    for step in DICTIONARY:
        assert step.what.endswith("."), step.name
        assert look_up(step.name, step.style) is step, step.name
        if step.counts:
            assert len(read_line(line_of(step), step.counts)) >= len(step.actions)


FIXED = [s.name for s in DICTIONARY if s.actions and s.style is None]


@given(st.lists(st.sampled_from(FIXED), min_size=1, max_size=8), st.sampled_from([L, R]))
def test_what_steps_fill_can_be_read_and_danced(names: list[str], weight: Foot) -> None:
    """No foot is asked for that bears the weight, and the counts are those of the steps."""
    made = filled(", ".join(names), weight)
    assert made.unknown == ()
    assert made.counts == sum(s.counts or 1 for s in map(look_up, names) if s)
    phrase = Phrase("", made.counts, made.line, marks=made.marks, weight=weight)
    assert [f.text for f in checked(Written("", (phrase,)), MusicEights()) if "needs that foot free" in f.text] == []


PHRASES = (
    Phrase("one", 8, "1 2 3 & 4 - 6 7 8", marks=(Mark("3 &", "lift"), Mark("5", "wait", Score.FREE))),
    Phrase("two", 8, "& 1 2 ~ 4 5 6 7 8 a", marks=(Mark("& 1", "up"), Mark("8 a", "go"))),
    Phrase("three", 4, "3 4", marks=(Mark("4", "end"),)),
)


@given(st.integers(1, 19))
def test_moving_the_one_loses_nothing(at: int) -> None:
    """Every moment that was written is there with its cue, at the same place of the music, and a row begins there."""
    before, after = (Written("", p) for p in (PHRASES, renumbered(Written("", PHRASES), at).phrases))
    old, new = (expand(unfolded(w)) for w in (before, after))
    assert sum(p.counts for p in after.phrases) == 20
    assert at in unfolded(after).starts()

    def said(counts: object) -> list[tuple[Fraction, str, bool, bool]]:
        return [(c.at, c.cue, c.hold, c.goes_on) for c in counts if not c.free or c.cue]  # type: ignore[attr-defined]

    assert said(old) == said(new)


def test_what_is_counted_at_another_pace_sounds_as_before() -> None:
    """What is taught as 1 2 3 4 may be 1 & 2 & in the music."""
    taught = Written("", (Phrase("", 4, "1 2 - 4", marks=(Mark("2", "kick"), Mark("4", "go"))),))
    half = repaced(taught, Fraction(1, 2))
    assert (half.phrases[0].counts, half.phrases[0].line) == (2, "1 & - &")
    assert [(m.label, m.cue) for m in half.phrases[0].marks] == [("1 &", "kick"), ("2 &", "go")]
    back = repaced(half, Fraction(2))
    assert back.phrases == taught.phrases
    assert repaced(repaced(half, Fraction(1, 2)), Fraction(4)).phrases[0].line == "1 2 - 4"
    for line, counts in (("1 2 3", 3), ("1 e 2", 2), ("1 ~ 3 4", 4)):
        with pytest.raises(LineError, match="row 1"):
            repaced(Written("", (Phrase("", counts, line),)), Fraction(1, 2))


def test_a_whole_sheet_is_pasted() -> None:
    text = "# A\nQuay: 1 2 3 - 5 6 7 8\n\n1 2 3 & 4 -\n# tag\nRopes | walk R L, kick R"
    made = read_pasted(text).phrases
    assert [(p.name, p.counts, p.section) for p in made] == [("Quay", 8, "A"), ("", 5, ""), ("Ropes", 3, "tag")]
    assert [m.cue for m in made[2].marks] == ["walk R", "walk L", "kick R"]


def test_all_that_can_not_be_read_is_told_at_once() -> None:
    with pytest.raises(PastedError) as told:
        read_pasted("a: 1 2 4\nb: 1 2 3\nc: 1 2 x 4\n")
    assert [(p.line, p.reason) for p in told.value.problems] == [
        (1, "3 is missing: write - for a hold"), (3, "x is not a count: write a number, &, e, a, - or ~"),
    ]  # fmt: skip
    with pytest.raises(PastedError, match="no row"):
        read_pasted("# A\n")


def test_a_pasted_sheet_says_what_is_worth_a_look() -> None:
    made = read_pasted("1-8\nwalk R L, flibber R, 3&4: walk R\n1 2 3 4 5 6 7 8 1 2 3 4 5 6 7 8\n1 2 3 4 5 6 7")
    assert [p.line for p in made.phrases[2:]] == ["1 2 3 4 5 6 7 8", "1 2 3 4 5 6 7 8", "1 2 3 4 5 6 7"]
    assert [p.counts for p in made.phrases] == [8, 5, 8, 8, 7]
    said = " ".join(r.reason for r in made.remarks)
    assert "flibber is not in the dictionary" in said
    assert "3&4 is written there, and the steps take" in said
    assert "row 5 of these has 7 counts" in said


LINES = {
    # as people write steps: counts, what is danced where (the foot, the turn in eighths)
    "walk R L": ("1 2", "1:r 2:l"),
    "walks R L R L": ("1 2 3 4", "1:r 2:l 3:r 4:l"),
    "Right side, left together": ("1 2", "1:r 2:l"),
    "R side / L close": ("1 2", "1:r 2:l"),
    "shuffle R": ("1 & 2", "1:r 1&:l 2:r"),
    "shuffles R L": ("1 & 2 3 & 4", "1:r 1&:l 2:r 3:l 3&:r 4:l"),
    "1-2: walk R L, 3&4: shuffle R": ("1 2 3 & 4", "1:r 2:l 3:r 3&:l 4:r"),
    "1 2 walk R L; 3 & 4 shuffle R": ("1 2 3 & 4", "1:r 2:l 3:r 3&:l 4:r"),
    "5 & 6: shuffle R": ("1 & 2", "1:r 1&:l 2:r"),
    "5-8: vine L": ("1 2 3 4", "1:l 2:r 3:l 4:r"),
    "rock R 1, recover 2 & together": ("1 2 &", "1:r 2:l 2&:r"),
    "rock R, recover & together": ("1 2 &", "1:r 2:l 2&:r"),
    "rock L recover, coaster L": ("1 2 3 & 4", "1:l 2:r 3:l 3&:r 4:l"),
    "step R & close L, step R": ("1 & 2", "1:r 1&:l 2:r"),
    "step R and close L": ("1 &", "1:r 1&:l"),
    "pivot R": ("1 2", "1:r 2:l-4"),
    "1/4 pivot R": ("1 2", "1:r 2:l-2"),
    "pivot R 1/4": ("1 2", "1:r 2:l-2"),
    "pivot L 1/2": ("1 2", "1:l 2:r+4"),
    "quarter pivot L": ("1 2", "1:l 2:r+2"),
    "step R half pivot": ("1 2", "1:r 2:l-4"),
    "pivot 1/4 R": ("1 2", "1:l 2:r+2"),
    "half turn L": ("1", "1:-4"),
    "3/4 turn R": ("1", "1:+6"),
    "step L turn 1/4 R": ("1", "1:l+2"),
    "1/4 turn R & step L": ("1 &", "1:+2 1&:l"),
    "step R 1/4": ("1", "1:r+2"),
    "step L 1/4": ("1", "1:l-2"),
    "step R 1/4 left, hold": ("1 -", "1:r-2 2:"),
    "jazz box R 1/4": ("1 2 3 4", "1:r 2:l 3:r 4:l+2"),
    "monterey 1/2 R": ("1 2 3 4", "1:r 2:r+4 3:l 4:l"),
    "paddle turns R R": ("1 2 3 4", "1:r 2:l-2 3:r 4:l-2"),
    "vine R with touch": ("1 2 3 4", "1:r 2:l 3:r 4:l"),
    "vine R with brush": ("1 2 3 4", "1:r 2:l 3:r 4:l"),
    "vine R, repeat": ("1 2 3 4 5 6 7 8", "1:r 2:l 3:r 4:l 5:r 6:l 7:r 8:l"),
    "vine R, mirror": ("1 2 3 4 5 6 7 8", "1:r 2:l 3:r 4:l 5:l 6:r 7:l 8:r"),
    "shuffle R, same with L": ("1 & 2 3 & 4", "1:r 1&:l 2:r 3:l 3&:r 4:l"),
    "kick R, hold, kick L, hold": ("1 - 3 -", "1:r 2: 3:l 4:"),
    "1-2 step R": ("1 -", "1:r"),
    "hold 2, step R": ("- - 3", "1: 3:r"),
    "kick ball change R": ("1 & 2", "1:r 1&:r 2:l"),
    "full turn R": ("1 2", "1:r+4 2:l+4"),
}


@pytest.mark.parametrize("text", LINES)
def test_lines_as_people_write_them_are_filled_right(text: str) -> None:
    line, said = LINES[text]
    made = filled(text)
    danced = {
        m.label.replace(" ", "") + ":" + (m.foot.value[0] if m.foot else "") + (f"{m.turn:+}" if m.turn else "")
        for m in made.marks
    }
    assert (made.line, danced, made.unknown, made.misfits) == (line, set(said.split()), (), ())


@pytest.mark.parametrize(
    ("text", "what"),
    [
        ("flibber R, step L", "flibber"),
        ("1-3: vine R", "1-3"),
        ("walk R L, 3 4: shuffle R, step L 7", "7"),
        ("shuffle R 5, walk L 2", "2"),
        ("1&2: walk R L", "1&2"),
    ],
)
def test_what_does_not_fit_is_told_at_its_place(text: str, what: str) -> None:
    made = filled(text)
    told = [text[u.start : u.end] for u in made.unknown] + [text[m.start : m.end] for m in made.misfits]
    assert what in told
