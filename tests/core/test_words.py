"""What is said of counts and rows, for every verdict: built by hand, so that each sentence is seen to be said."""

from dataclasses import replace
from fractions import Fraction as F

import pytest

from juxtakine.core.comparing.explaining import findings, phrases
from juxtakine.core.comparing.results import (
    Alignment,
    Comparison,
    CountResult,
    FindingKind,
    Method,
    Mirror,
    PartResult,
    PhraseKind,
    Position,
    PositionVerdict,
    Timing,
    TimingVerdict,
    Unit,
    Untold,
    Way,
)
from juxtakine.core.comparing.timing import verdicts
from juxtakine.core.counting.sheets import Phrase, Sheet, expand
from juxtakine.core.movement.body import Part
from juxtakine.core.telling.findings import said
from juxtakine.core.telling.rows import row_words, sentence
from support.measured import lines

SHEET = Sheet("", (Phrase("Quay", 4, "1 2 3 4"), Phrase("", 4, "1 - 3 & 4")))
COUNTS = expand(SHEET)
HELD = {p: PartResult(2.0, Unit.DEGREES, 1.0, PositionVerdict.HELD, 3.0, 15.0) for p in Part}


def part(error: float, way: Way | None, verdict: PositionVerdict = PositionVerdict.OFF, **more: object) -> PartResult:
    return replace(PartResult(error, Unit.DEGREES, 1.0, verdict, 3.0, 15.0, way), **more)


def count(
    i: int, ms: float | None = 0.0, parts: dict[Part, PartResult] | None = None, seen: bool = True
) -> CountResult:
    """One count as it would be measured: `ms` late (None: nothing moves), with these parts off."""
    if not seen:
        timing, position = (
            Timing(TimingVerdict.NOT_SEEN, why=Untold.NOT_SEEN),
            Position(PositionVerdict.NOT_SEEN, None, {}),
        )
    else:
        made = HELD | (parts or {})
        timing = Timing(TimingVerdict.UNMEASURABLE, why=Untold.HOLD if COUNTS[i].hold else Untold.STILL)
        if ms is not None:
            timing = Timing(verdicts.timing_verdict(ms, 10.0), ms, ms / 500, 10.0)
        off = any(p.verdict is PositionVerdict.OFF for p in made.values())
        position = Position(PositionVerdict.OFF if off else PositionVerdict.HELD, 0.8 if off else 1.0, made)
    found = findings.of_count(COUNTS[i], timing, position) if seen else ()
    return CountResult(COUNTS[i], 0.0, 0.0, None, 0.0, timing, position, found, ms is not None)


def comparison(*counts: CountResult) -> Comparison:
    rows = tuple(phrases.of_phrase(n, 4 * (n - 1), [c for c in counts if c.count.phrase == n]) for n in (1, 2))
    return Comparison(
        Alignment(Method.SOUND, 0.0, 1.0, 1.0, 0.0),
        Mirror(False, frozenset(), 1.0),
        0.0,
        0.0,
        counts,
        rows,
        phrases.redrill(rows),
    )


def everything(**changed: CountResult) -> Comparison:
    return comparison(*(changed.get(f"c{i}", count(i)) for i in range(len(COUNTS))))


@pytest.mark.parametrize(
    ("ms", "se", "verdict"),
    [(53, 5, "on"), (55, 5, "behind"), (-55, 5, "ahead"), (85, 50, "on"), (-95, 50, "ahead")],
)
def test_a_count_is_off_beyond_50_ms_and_most_of_a_standard_error(ms: float, se: float, verdict: str) -> None:
    assert verdicts.timing_verdict(ms, se) == verdict


def test_a_late_count_is_said_with_its_error_and_in_counts() -> None:
    said = lines(count(0, 120))
    assert (said[0].text, said[0].note, said[0].off) == ("120 ±10 ms behind", "0.24 of a count", True)
    assert said[1].text == "everything held"
    assert lines(count(0, -20))[0].text == "on it (20 ±10 ms ahead)"


def test_what_can_not_be_told_is_said_so() -> None:
    assert lines(count(0, None))[0].text == "timing not measurable: too little moves here"
    assert lines(count(0, seen=False))[0].text == "timing not seen"
    assert lines(count(5, None))[0].text == "a hold: no arrival to time"


def test_what_was_turned_away_is_to_be_filmed_from_the_front() -> None:
    hidden = {p: part(0, None, PositionVerdict.NOT_SEEN) for p in (Part.HEAD, Part.LEFT_FOREARM)}
    assert lines(count(0, 0, hidden))[-1].text == "to see it next time: film from the front"


def test_parts_are_named_by_what_was_off_what_followed_and_what_held() -> None:
    parts = {
        Part.LEFT_UPPER_ARM: part(-31, Way.LOW),
        Part.LEFT_FOREARM: part(-28, Way.LOW, follows=Part.LEFT_UPPER_ARM),
        Part.HEAD: part(21, Way.UP, PositionVerdict.NEAR, se=9.0),
        Part.LEFT_SHIN: part(25, Way.BENT, se=20.0),
        Part.RIGHT_SHIN: part(0, None, PositionVerdict.NOT_SEEN),
    }
    said = lines(count(0, 0, parts))
    assert said[1].note.endswith("; 15° passes")
    texts = [r.text for r in said]
    assert texts[1:] == [
        "left upper arm 31° too low",
        "left forearm follows the left upper arm",
        "head 21° too far up",
        "left shin 25° too bent",
        "right arm, torso, left thigh, right thigh, level, spread, facing held",
        "right shin not seen",
        "to see it next time: the whole body in shot",
    ]


def test_what_follows_one_part_is_said_together() -> None:
    turned = {p: part(40, Way.IN, follows=Part.FACING) for p in (Part.HEAD, Part.LEFT_FOREARM)}
    said = [r.text for r in lines(count(0, 0, turned | {Part.FACING: part(40, Way.FAR)}))]
    assert said[1:3] == ["turned too far by 40°", "head, left forearm follow the body"]


def test_a_follower_has_no_finding_of_its_own() -> None:
    parts = {
        Part.LEFT_UPPER_ARM: part(-31, Way.LOW),
        Part.LEFT_FOREARM: part(-28, Way.LOW, follows=Part.LEFT_UPPER_ARM),
    }
    assert [f.part for f in count(0, 0, parts).findings] == [Part.LEFT_UPPER_ARM]


def test_a_finding_is_as_sure_as_its_size_stands_out() -> None:
    """That it is off by more than 50 ms: of one that is 50 ms off that is as likely as not."""
    certain = [count(0, ms).findings[0].certainty for ms in (70, 85, 120)]
    assert certain[0] < certain[1] < certain[2]
    assert certain[2] > 0.99
    known, badly_known = (verdicts.chance_off(90.0, se) for se in (10.0, 40.0))
    assert badly_known < known
    assert verdicts.chance_off(50.0, 5.0) == pytest.approx(0.5)
    assert verdicts.chance_off(40.0, 5.0) < 0.5


@pytest.mark.parametrize(
    ("start_ms", "kind", "words"),
    [(130.0, FindingKind.HURRIED, "starts 120 ms late for its arrival, and hurries"),
     (-110.0, FindingKind.DRAGGED, "starts 120 ms early for its arrival, and drags"), (60.0, None, "")],
)  # fmt: skip
def test_a_move_that_arrives_on_its_count_may_have_started_late_or_early(
    start_ms: float, kind: FindingKind | None, words: str
) -> None:
    held = Position(PositionVerdict.HELD, 1.0, HELD)
    timing = Timing(TimingVerdict.ON, 10.0, 0.02, 10.0, start_ms, 15.0)
    found = findings.of_count(COUNTS[0], timing, held)
    assert [f.kind for f in found] == ([kind] if kind else [])
    assert [said(f, [count(0, 10)]) for f in found] == ([words] if kind else [])


def test_a_clean_take_has_nothing_to_redrill() -> None:
    result = everything()
    assert result.redrill == ()
    assert sentence(result, SHEET).strong == "Nothing to redrill:"
    assert (row_words(result, 1).tallies, row_words(result, 1).kind) == (0, "clean")


def test_a_row_that_was_hardly_seen_is_unclear_and_to_be_filmed_again() -> None:
    result = everything(c0=count(0, seen=False), c1=count(1, seen=False))
    assert result.phrases[0].kind is PhraseKind.UNCLEAR
    assert result.redrill == ()
    assert sentence(result, SHEET).strong.startswith("Film again")
    assert "row 1 could not be measured" in sentence(result, SHEET).rest
    assert row_words(result, 1).lines == ("2 of 4 could be measured",)


def test_a_sure_finding_stands_also_where_little_was_seen() -> None:
    result = everything(c0=count(0, seen=False), c1=count(1, seen=False), c2=count(2, 160))
    assert result.phrases[0].kind is PhraseKind.TIMING
    assert result.redrill == (1,)


def test_rows_say_their_kind_and_counts_and_the_worst_comes_first() -> None:
    arm = {Part.RIGHT_UPPER_ARM: part(-40, Way.LOW)}
    result = everything(c1=count(1, 0, arm), c4=count(4, 150), c6=count(6, 170), c7=count(7, 140))
    assert result.redrill == (2, 1)
    told = sentence(result, SHEET)
    assert (told.strong, told.rest) == ("Redrill row 2", "from 1, then Quay.")
    assert row_words(result, 1).kind == "right arm on 2"
    assert row_words(result, 2).kind == "late on 1, 3, 3 &"
    assert row_words(result, 2).lines[0] == "3: 170 ms behind"
    assert result.phrases[0].start_at == F(-1), "two counts before the first finding"


def test_late_and_early_and_mixed_parts_are_named_so() -> None:
    both = everything(c0=count(0, 150), c2=count(2, -150))
    assert row_words(both, 1).kind == "late and early on 1, 3"
    parts = everything(c0=count(0, 0, {Part.HEAD: part(60, None)}), c1=count(1, 0, {Part.TORSO: part(30, None)}))
    assert row_words(parts, 1).kind == "position on 1, 2"


def test_need_grows_with_size_number_and_certainty() -> None:
    needs = [
        everything(c0=count(0, 80)).phrases[0].need,
        everything(c0=count(0, 160)).phrases[0].need,
        everything(c0=count(0, 160), c1=count(1, 160)).phrases[0].need,
    ]
    assert needs == sorted(needs)
    assert len(set(needs)) == 3
    assert needs[2] <= 1
