"""Count lines: what a dancer writes for a phrase, such as `1 2 3 & 4 - 6 7 8`, read into exact positions.

Conventions: positions are in counts from the phrase's own 1 (which is 0), so a pick-up is negative.
A number or `-` (hold) or `~` (the move goes on) stands for each whole count; `e`, `&`, `a` divide the
count before them; `-&` is a hold of a half. A line may begin at any count: those before are silent.
As people write: `1&2`, `3 and 4`, `one two`, `1-4` for 1 2 3 4, `1, 2`, `hold`, `slow slow quick quick`, and
a second eight that begins at 1 again in a phrase that is long enough.
"""

import re
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

STRAIGHT = Fraction(1, 2)
STRAIGHT_PLACES = {"e": Fraction(1, 4), "&": Fraction(1, 2), "a": Fraction(3, 4)}
TRIPLE_PLACES = {"&": Fraction(1, 3), "a": Fraction(2, 3)}
WORDS = {word: str(n) for n, word in enumerate((
    "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve", "thirteen",
    "fourteen", "fifteen", "sixteen"), 1)} | {
    "and": "&", "n": "&", "+": "&", "ee": "e", "ah": "a", "uh": "a", "hold": "-", "pause": "-", "rest": "-",
    "\N{EN DASH}": "-", "\N{EM DASH}": "-",
}  # fmt: skip
DASHES = "\\-\N{EN DASH}\N{EM DASH}"
TOKEN = re.compile(
    rf"(?P<first>\d{{1,2}})[{DASHES}](?P<last>\d{{1,2}})(?!\d)|\d+|-[&ea](?![a-z])|[&+~{DASHES}]"
    rf"|[^\s\d,;/|()&+~{DASHES}]+",
    re.IGNORECASE,
)
NUMBER = re.compile(r"[1-9][0-9]?$")
EIGHT = 8
LONGEST_RANGE = 16
SLOW, QUICK = ("s", "slow"), ("q", "quick")


@dataclass(frozen=True)
class Sounding:
    """One written moment of a line: where it is, what it is called, and whether something arrives there."""

    at: Fraction
    label: str
    hold: bool = False
    goes_on: bool = False

    @property
    def between(self) -> bool:
        """Whether it lies between two counts."""
        return self.at.denominator > 1

    @property
    def sign(self) -> str:
        """What stands in its cell: the count's number, or the part's letter."""
        return next(word for word in self.label.split() if word.isdecimal() != self.between)


class LineError(ValueError):
    """A line that can't be read: `reason` in words, `start` and `end` the place in the line's text.

    `missing`: a count is not written, and a hold put at `start` would mend it.
    """

    def __init__(self, reason: str, start: int, end: int, missing: bool = False) -> None:
        super().__init__(reason)
        self.reason, self.start, self.end, self.missing = reason, start, end, missing


@dataclass(frozen=True)
class _Token:
    text: str
    start: int
    end: int

    def error(self, reason: str) -> LineError:
        return LineError(reason, self.start, self.end)

    @property
    def name(self) -> str:
        return self.text.removeprefix("-")

    @property
    def divides(self) -> bool:
        return self.name in STRAIGHT_PLACES

    @property
    def holds(self) -> bool:
        return self.text.startswith("-")


@lru_cache(maxsize=4096)
def read_line(line: str, counts: int, swing: Fraction = STRAIGHT) -> tuple[Sounding, ...]:
    """Read a count line of a phrase of `counts` counts; `swing` is where a lone `&` lies in its count.

    Raises LineError with the place and the reason when a count is missing, comes twice or is unknown.
    """
    tokens = _tokens(line)
    if not tokens:
        raise LineError("the line is empty: write a number for each count, - for a hold", 0, len(line))
    groups = _by_count(tokens, counts)
    soundings = [s for number, group in groups for s in _soundings(number, group, swing)]
    return tuple(soundings)


def counts_of(line: str) -> int:
    """For how many counts a line is written: its last number, and the holds after it."""
    words = [t.text for t in _tokens(line)]
    last = max((i for i, word in enumerate(words) if NUMBER.match(word)), default=-1)
    number = int(words[last]) if last >= 0 else 0
    return number + sum(word in ("-", "~") for word in words[last + 1 :])


def plain(line: str) -> str:
    """The line in the signs that it is kept in, as `1 & 2 - 4`; what can't be read stays as it is."""
    return " ".join(t.text for t in _tokens(line))


def counted(text: str) -> bool:
    """Whether a text is made of counts and their parts alone."""
    tokens = _tokens(text)
    return bool(tokens) and all(NUMBER.match(t.text) or t.divides or t.text in ("-", "~") for t in tokens)


def eights(line: str) -> tuple[str, ...]:
    """A line in which the counts begin at 1 again, parted there."""
    parts: list[list[str]] = [[]]
    for token in _raw(line):
        begun = any(NUMBER.match(t) for t in parts[-1])
        if token.text == "1" and begun:
            parts.append([])
        parts[-1].append(token.text)
    return tuple(" ".join(p) for p in parts if p)


def _raw(line: str) -> list[_Token]:
    """The signs of a line, in the words that it is kept in, with where they stand in the text."""
    found: list[_Token] = []
    for m in TOKEN.finditer(line):
        if m["first"] and int(m["first"]) < int(m["last"]) <= int(m["first"]) + LONGEST_RANGE:
            found += [_Token(str(n), m.start(), m.end()) for n in range(int(m["first"]), int(m["last"]) + 1)]
        else:
            word = m.group().lower()
            found.append(_Token(WORDS.get(word, word if word in STRAIGHT_PLACES else m.group()), m.start(), m.end()))
    return _slow_and_quick(found)


def _slow_and_quick(tokens: list[_Token]) -> list[_Token]:
    """Slow takes two counts, quick one; only where the line is made of them."""
    words = [t.text.lower() for t in tokens]
    if not words or not all(w in (*SLOW, *QUICK) for w in words):
        return tokens
    made: list[_Token] = []
    for token, word in zip(tokens, words, strict=True):
        made.append(_Token(str(len(made) + 1), token.start, token.end))
        if word in SLOW:
            made.append(_Token("-", token.start, token.end))
    return made


def _tokens(line: str) -> list[_Token]:
    """As `_raw`, with eights that begin at 1 again counted on, and a hold that is named by its number as one."""
    made: list[_Token] = []
    on = last = 0
    named_hold = False
    for token in _raw(line):
        text = token.text
        if NUMBER.match(text):
            if int(text) == 1 and last % EIGHT == 0 and last > on:
                on = last
            number = int(text) + on
            held = named_hold and last == number
            last = number
            if held:
                continue
            text = str(number)
        elif text in ("-", "~"):
            last += 1
        named_hold = text == "-" and line[token.start : token.end].isalpha()
        made.append(_Token(text, token.start, token.end))
    return made


def first_counts(line: str, counts: int, kept: int) -> str:
    """The line of the first `kept` counts of a phrase of `counts`. Raises LineError as `read_line` does."""
    tokens = _tokens(line)
    return " ".join(t.text for number, group in _by_count(tokens, counts) if number <= kept for t in group)


def rewritten(line: str, counts: int, label: str, sign: str) -> str:
    """The line with another sign on one count (`-` for a hold), or, for a part of a count, without it (""). Raises
    LineError as `read_line` does."""
    tokens = _tokens(line)
    made: list[str] = []
    for number, group in _by_count(tokens, counts):
        for token in group:
            own = (f"{number} {token.name}" if number else f"{token.name} 1") if token.divides else str(number)
            made.append(sign if own == label else token.text)
    return " ".join(filter(None, made))


def _by_count(tokens: list[_Token], counts: int) -> list[tuple[int, list[_Token]]]:
    """Tokens grouped under the whole count they belong to; 0 is the pick-up before the 1."""
    groups: list[tuple[int, list[_Token]]] = []
    for token in tokens:
        last = groups[-1][0] if groups else None
        if token.divides:
            if last is None:
                groups.append((0, []))
            groups[-1][1].append(token)
        elif token.text in ("-", "~"):
            groups.append(((last or 0) + 1, [token]))
        elif NUMBER.match(token.text):
            number = int(token.text)
            _check_follows(token, number, last)
            groups.append((number, [token]))
        else:
            raise token.error(f"{token.text} is not a count: write a number, &, e, a, - or ~")
        if groups[-1][0] > counts:
            raise token.error(f"{token.text} is one too many: the phrase has {counts} counts")
    if groups[-1][0] < counts:
        missing, end = groups[-1][0] + 1, tokens[-1].end
        raise LineError(f"{missing} is missing: write - for a hold", end, end, missing=True)
    return groups


def _check_follows(token: _Token, number: int, last: int | None) -> None:
    if last is None or (last == 0 and number == 1):
        return
    if last == 0:
        raise token.error(f"a pick-up leads into 1, here {number} comes after it")
    if number <= last:
        raise token.error(f"{number} comes after {last}")
    if number > last + 1:
        raise LineError(f"{last + 1} is missing: write - for a hold", token.start, token.start, missing=True)


def _soundings(number: int, group: list[_Token], swing: Fraction) -> list[Sounding]:
    parts = [t for t in group if t.divides]
    places = _places([t.name for t in parts], swing)
    base = Fraction(number - 1)
    made = [Sounding(base, str(number), hold=t.text == "-", goes_on=t.text == "~") for t in group if not t.divides]
    for token in parts:
        place = places[token.name]
        if made and base + place <= made[-1].at:
            raise token.error(f"{token.name} stands twice or in the wrong order: e & a is the order")
        label = f"{number} {token.name}" if number else f"{token.name} 1"
        made.append(Sounding(base + place, label, hold=token.holds))
    return made


def _places(names: list[str], swing: Fraction) -> dict[str, Fraction]:
    """Where the divisions of one count lie. Straight: e 1/4, & 1/2, a 3/4. Swung: a lone & or a at the
    phrase's ratio, & with a at thirds; an e makes four even parts in either."""
    if swing == STRAIGHT or "e" in names:
        return STRAIGHT_PLACES
    if set(names) == {"&", "a"}:
        return TRIPLE_PLACES
    return {"&": swing, "a": swing}
