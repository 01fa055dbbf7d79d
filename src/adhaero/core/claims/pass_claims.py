"""Conclusions about passes and failures: who passes more often, how many did, what share of all such pieces would."""

import re
from typing import Final

from adhaero.core.claims.check import Answer
from adhaero.core.claims.standing import Standing, Verdict, decide
from adhaero.core.stats.laws import CLEAR
from adhaero.core.stats.pass_groups import PassComparison, PassGroup, PassPair
from adhaero.core.stats.pass_words import say_pass_pair, say_share

PASS_CHECKABLE: Final = (
    "Heron passes more often than Wren",
    "Heron passes the most often",
    "All of Heron passed; 2 of 12 of Wren failed",
    "At least 90 % of Heron passes",
    "About half of Wren fails",
)
_NEAR_POINTS: Final = 0.05
_SHARES: Final = {"half": 50.0, "a third": 100 / 3, "two thirds": 200 / 3, "a quarter": 25.0, "three quarters": 75.0}
_DOES: Final = r"(?P<does>pass(?:es|ed)?|h[eo]lds?|fail(?:s|ed)?)"
_OF: Final = r"(?: of)?(?: all)?(?: the)?(?: pieces)?(?: of| with)?"


def check_passes(text: str, result: PassComparison) -> list[Answer]:
    """Return how every clause of a conclusion stands against sets of pieces that passed or failed."""
    found = []
    for clause in re.split(r"[.;!\n]+(?:\s|$)", text.strip()):
        said = clause.strip(" ,")
        if said:
            verdict = _judge(" ".join(said.casefold().split()), result)
            found.append(Answer(0, said, verdict.understood, verdict.standing, verdict.words))
    return found


def _judge(said: str, result: PassComparison) -> Verdict:
    groups = {one.level.casefold(): one for one in result.groups}
    name = "|".join(re.escape(one) for one in sorted(groups, key=len, reverse=True))
    readers = (
        (rf"(?P<a>{name}) {_DOES} (?P<way>more|less) often than (?P<b>{name})", _judge_pair),
        (rf"(?P<a>{name}) {_DOES} (?:the )?(?P<way>most|least)(?: often)?", _judge_first),
        (rf"(?P<all>all|every|each|none|no)(?: piece| one)?{_OF} (?P<a>{name}) {_DOES}", _judge_all),
        (rf"(?P<x>\d+) of (?P<n>\d+){_OF} (?P<a>{name}) {_DOES}", _judge_count),
        (
            rf"(?:(?P<near>at least|more than|at most|less than|about|around) )?"
            rf"(?:(?P<pct>\d+(?:[.,]\d+)?) ?%|(?P<words>{'|'.join(_SHARES)})){_OF} (?P<a>{name}) {_DOES}",
            _judge_share,
        ),
    )
    for pattern, judge in readers:
        if (match := re.fullmatch(pattern, said)) is not None:
            return judge(match, groups, result)
    return Verdict(
        "", Standing.NOT_CHECKED, f"Expected a sentence such as “{PASS_CHECKABLE[0]}”, with the sets' names."
    )


Groups = dict[str, PassGroup]


def _fails(match: re.Match[str]) -> bool:
    return match["does"].startswith("fail")


def _find(result: PassComparison, a: str, b: str) -> PassPair:
    return next(one for one in result.pairs if {one.a, one.b} == {a, b})


def _is_clear(pair: PassPair, first: str) -> tuple[bool, bool]:
    """Return whether a set is shown to pass more often than the other of a pair, and less often."""
    ahead = pair.difference > 0 if pair.a == first else pair.difference < 0
    clear = pair.p_adjusted < CLEAR
    return clear and ahead, clear and not ahead


def _judge_pair(match: re.Match[str], groups: Groups, result: PassComparison) -> Verdict:
    a, b = groups[match["a"]].level, groups[match["b"]].level
    if a == b:
        return Verdict("", Standing.NOT_CHECKED, "That is one set.")
    pair = _find(result, a, b)
    more, less = _is_clear(pair, a)
    turned = (match["way"] == "less") is not _fails(match)
    understood = f"{a} passes {'less' if turned else 'more'} often than {b}"
    return Verdict(understood, decide(less, more) if turned else decide(more, less), say_pass_pair(pair))


def _judge_first(match: re.Match[str], groups: Groups, result: PassComparison) -> Verdict:
    a = groups[match["a"]].level
    turned = (match["way"] == "least") is not _fails(match)
    each = [_is_clear(_find(result, a, one.level), a) for one in result.groups if one.level != a]
    if turned:
        each = [(less, more) for more, less in each]
    standing = decide(all(yes for yes, _ in each), any(no for _, no in each))
    counts = "; ".join(f"{one.level}: {one.passed} of {one.n}" for one in result.groups)
    return Verdict(f"{a} passes {'least' if turned else 'most'} often of all", standing, f"Passed: {counts}.")


def _judge_all(match: re.Match[str], groups: Groups, _: PassComparison) -> Verdict:
    one = groups[match["a"]]
    none = (match["all"] in ("none", "no")) is not _fails(match)
    understood = f"{'no piece' if none else 'every piece'} of {one.level} passed"
    stands = one.passed == (0 if none else one.n)
    return Verdict(understood, decide(stands, not stands), f"{say_share(one)}.")


def _judge_count(match: re.Match[str], groups: Groups, _: PassComparison) -> Verdict:
    one, count, of = groups[match["a"]], int(match["x"]), int(match["n"])
    passed = of - count if _fails(match) else count
    stands = (passed, of) == (one.passed, one.n)
    return Verdict(f"{passed} of {of} of {one.level} passed", decide(stands, not stands), f"{say_share(one)}.")


def _judge_share(match: re.Match[str], groups: Groups, _: PassComparison) -> Verdict:
    one, near = groups[match["a"]], match["near"] or "about"
    pct = _SHARES[match["words"]] if match["words"] else float(match["pct"].replace(",", "."))
    share = pct / 100
    above = near in ("at least", "more than")
    if _fails(match):
        share, above = 1 - share, near in ("at most", "less than")
    if near in ("about", "around"):
        understood = f"about {100 * share:.0f} % of all such pieces of {one.level} pass"
        inside = one.ci95[0] <= share <= one.ci95[1]
        standing = decide(inside and abs(one.share - share) <= _NEAR_POINTS, not inside)
    else:
        understood = f"{'at least' if above else 'at most'} {100 * share:.0f} % of all such pieces of {one.level} pass"
        yes, no = one.at_least >= share, one.at_most < share
        standing = decide(yes, no) if above else decide(one.at_most <= share, one.at_least > share)
    return Verdict(understood, standing, f"{say_share(one)}.")
