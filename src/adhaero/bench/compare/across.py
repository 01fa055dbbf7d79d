"""Across the slices of a trial: the answer to its question, what each slice costs, who changes places."""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import combinations

from adhaero.bench.compare.breaks import Breaks, Choice, collect_breaks, find_controls
from adhaero.bench.compare.findings.asked import Asked
from adhaero.bench.compare.headline import answer, find_answer, find_few
from adhaero.bench.compare.pairs import rank
from adhaero.bench.compare.result_units import read_result_units
from adhaero.bench.compare.slices import ALONG, WOOD, Value, choose_slice, find_slice, list_slices
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.facts.shelf import kept
from adhaero.core.errors import DataError
from adhaero.core.stats.analyse import Analysis, analyse
from adhaero.core.stats.degree import degree_of
from adhaero.core.stats.factor_words import say_together
from adhaero.core.stats.factors import FactorEffect
from adhaero.core.stats.pairs import Pair, Verdict
from adhaero.core.stats.retention import name_set
from adhaero.core.stats.verdict import find_winner, say_least, say_pair, smaller_set, turn
from adhaero.core.stats.words import and_join, capital, say_difference, say_name, say_span
from adhaero.core.units import Units
from adhaero.store.file import ShopFile

_MOST_SAID = 4
_MOST_CHANGES = 2


@dataclass(frozen=True)
class SliceTab:
    """One slice: its words to ask for it, what it is a value of, the value, its sets that count, and its headline."""

    words: str
    name: str
    value: str
    sets: int
    headline: str


@dataclass(frozen=True)
class SlicesView:
    """The slices of a trial.

    Attributes
    ----------
    names : what the trial can be cut by, what it is cut by first in front; none where one thing varies.
    slices : of the thing asked for, else of the first. first : the one to show; empty for all together.
    along : the question is how strength goes along an amount.
    headline : the answer to the trial's question in a sentence or a few; empty where that of the slice is it.
    """

    names: list[str]
    slices: list[SliceTab]
    first: str
    along: bool
    headline: list[str]


@dataclass(frozen=True)
class AcrossView:
    """What goes across slices, in sentences; empty where there are none."""

    said: list[str]


def view_slices(file: ShopFile, trial_id: int, choice: Choice) -> SlicesView:
    """Return the slices of a trial with a headline each, and the answer to its question across them."""
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        units = read_result_units(connection, facts, choice)
    asked = find_slice(facts, choice.slice)
    return _view(facts, asked.name if asked else "", replace(choice, slice=""), units, is_cut=asked is not None)


@kept(most=32)
def _view(facts: PieceFacts, name: str, choice: Choice, units: Units, *, is_cut: bool) -> SlicesView:
    first, slices = choose_slice(facts), list_slices(facts)
    names = list(dict.fromkeys(one.name for one in slices))
    name = name or next(iter(names), "")
    tabs = [_tab(facts, one, choice, units) for one in slices if one.name == name]
    along = facts.trial.answer in ALONG
    if first is None:
        # a wood is looked at beside the answer of all together
        whole = answer(facts, collect_breaks(facts, choice), choice, units) if is_cut else None
        return SlicesView(names, tabs, "", along, [whole.headline] if whole else [])
    return SlicesView(names, tabs, str(first), along, _answer_across(facts, tabs, choice, units))


def _tab(facts: PieceFacts, one: Value, choice: Choice, units: Units) -> SliceTab:
    mine = replace(choice, slice=str(one))
    breaks = collect_breaks(facts, mine)
    said = answer(facts, breaks, mine, units)
    sets = len({specimen.level for specimen in breaks.compared})
    return SliceTab(str(one), one.name, one.value, sets, said.headline if said else "Nothing is broken yet.")


def _answer_across(facts: PieceFacts, tabs: Sequence[SliceTab], choice: Choice, units: Units) -> list[str]:
    """Return the answer to the trial's question: that of all pieces, else which set leads in which slice."""
    if said := find_answer(facts, lambda: collect_breaks(facts, choice), units):
        return said[:_MOST_SAID]
    whole = collect_breaks(facts, choice)
    leads = {one.value: _lead(facts, one, choice) for one in tabs if one.sets}
    # where so few pieces show no set to lead, partners say more: what goes through something else is a pair
    few = bool(tabs) and not any(one.name for one in leads.values()) and find_few(facts, whole) is not None
    if few and (paired := _say_paired(whole, tabs[0].name)):
        return paired
    if not leads:
        return []
    names = {lead.name for lead in leads.values()}
    (only,) = names if len(names) == 1 else ("",)
    if only and len(leads) > 1:
        degree = next(iter(leads.values())).most
        least = [lead.least for lead in leads.values()]
        if all(one > 1 for one in least):
            at_least = f", by at least {say_least(min(least))}" if min(least) >= 1.01 else ""
            return [f"{say_name(only)} is the {degree} in all {len(leads)} slices{at_least}."]
    if len(leads) <= _MOST_SAID:
        return [f"{capital(value)}: {_lower(lead.words)}" for value, lead in leads.items()]
    counts = Counter(lead.name for lead in leads.values() if lead.name)
    said = [
        f"{say_name(name)} is the {next(iter(leads.values())).most} in {count} of {len(leads)} slices "
        f"({and_join([value for value, lead in leads.items() if lead.name == name])})."
        for name, count in counts.most_common(_MOST_SAID)
    ]
    if open_ := [value for value, lead in leads.items() if not lead.name]:
        said.append(f"Which set comes first cannot be told {_at(open_)}.")
    return said


def _at(values: Sequence[str]) -> str:
    return f"in any of the {len(values)} slices" if len(values) > _MOST_SAID else f"for {and_join(list(values))}"


def _lower(words: str) -> str:
    """Return a sentence that goes on after a colon; names keep their capital."""
    first = words.partition(" ")[0]
    return words[0].lower() + words[1:] if first in ("Cannot", "No", "Nothing", "Only") else words


@dataclass(frozen=True)
class _Lead:
    """Which set leads a slice: the winner, empty where none is shown, and by what factor it leads at least."""

    name: str
    least: float
    words: str
    most: str


def _lead(facts: PieceFacts, tab: SliceTab, choice: Choice) -> _Lead:
    analysis = collect_breaks(facts, replace(choice, slice=tab.words)).analysis
    if analysis is None:
        return _Lead("", 0.0, tab.headline, "")
    found = find_winner(analysis, find_controls(facts, analysis))
    most = degree_of(analysis.response).most
    return _Lead("", 0.0, tab.headline, most) if found is None else _Lead(found.name, found.least, tab.headline, most)


def view_across(file: ShopFile, trial_id: int, choice: Choice) -> AcrossView:
    """Return what goes across the slices: what each value costs, whether it acts alike on all, who changes places."""
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
    return _across(facts, replace(choice, slice="", unit="", against_control=False))


@kept(most=32)
def _across(facts: PieceFacts, choice: Choice) -> AcrossView:
    whole, slices = collect_breaks(facts, choice), list_slices(facts)
    if not slices or whole.analysis is None:
        return AcrossView([])
    name = slices[0].name
    analyses = {
        one.value: analysis
        for one in slices
        if one.name == name
        and (analysis := collect_breaks(facts, replace(choice, slice=str(one))).analysis) is not None
    }
    if name == WOOD:
        return AcrossView(_say_woods(facts, analyses))
    said: list[str] = []
    factors = Asked(facts, whole, whole.analysis).factors()
    if factors is not None:
        effect = next((one for one in factors.effects if one.factor == name), None)
        along = facts.trial.answer in ALONG
        said += _say_costs(effect) if effect and not along else []
        said += [say_together(one) for one in factors.together if one.other == name and one.test and not along][:1]
    return AcrossView(said + _say_places(facts, analyses))


def _say_paired(whole: Breaks, name: str) -> list[str]:
    """Return what a value does where each combination has one piece: partners are held against each other."""
    pieces = tuple(
        replace(one, level=one.factors[name], block=name_set(one, name), factors={})
        for one in whole.compared
        if name in one.factors
    )
    try:
        found = analyse(pieces, replace(whole.question, by=name, block="partners", control=None))
    except DataError:
        return []
    partners = len({one.block for one in pieces if one.excluded is None})
    degree = degree_of(found.response)
    return [
        f"Partner by partner ({partners}): {say_pair(one, found.margin_pct, smaller_set(found, one), degree)}"
        for one in found.pairs[:_MOST_SAID]
        if one.ratio_ci95 is not None
    ]


def _say_woods(facts: PieceFacts, analyses: Mapping[str, Analysis]) -> list[str]:
    """Return which set has the higher numbers in how many woods: a description, no verdict."""
    firsts = [rank(one, find_controls(facts, one))[0] for one in analyses.values() if len(one.groups) > 1]
    if len(firsts) < 2:
        return []
    name, count = Counter(firsts).most_common(1)[0]
    return [f"{say_name(name)} has the highest numbers in {count} of {len(firsts)} woods."]


def _say_costs(effect: FactorEffect) -> list[str]:
    """Return what each value leaves of the strength of the first, averaged over what was made with both."""
    if not effect.pairs:
        return []
    base = effect.levels[0].level
    over = f"averaged over {effect.averaged_over} that were made in each"
    said = []
    for level in effect.levels[1:]:
        pair = next((one for one in effect.pairs if {one.a, one.b} == {base, level.level}), None)
        if pair is None or pair.ratio is None or pair.ratio_ci95 is None:
            continue
        pair = pair if pair.a == level.level else turn(pair)
        assert pair.ratio is not None
        assert pair.ratio_ci95 is not None
        word = "costs" if pair.ratio < 1 else "adds"
        sure = "" if pair.measurable else "; that can be chance"
        amount = say_difference(pair.ratio).lstrip("+−")
        said.append(f"{capital(level.level)} {word} {amount} against {base} ({say_span(*pair.ratio_ci95)}{sure}).")
    return [f"{one[:-1]}, {over}." if at == 0 else one for at, one in enumerate(said)]


def _say_places(facts: PieceFacts, analyses: Mapping[str, Analysis]) -> list[str]:
    """Return which sets are shown to change places between slices, and whose rank moves most by the estimates alone."""
    if len(analyses) < 2:
        return []
    reversed_ = []
    verdicts = {value: {(one.a, one.b): one for one in analysis.pairs} for value, analysis in analyses.items()}
    for first, second in combinations(verdicts, 2):
        for (a, b), pair in verdicts[first].items():
            other = verdicts[second].get((a, b))
            if other is not None and _are_opposite(pair, other):
                best, worse = (a, b) if pair.verdict is Verdict.A_STRONGER else (b, a)
                reversed_.append(f"{best} is stronger than {worse} {_where(first)}, and weaker {_where(second)}.")
    if reversed_:
        others = len(reversed_) - _MOST_CHANGES
        more = f" So {'does' if others == 1 else 'do'} {others} more." if others > 0 else ""
        return [f"They change places: {' '.join(reversed_[:_MOST_CHANGES])}{more}"]
    return [f"No two sets are shown to change places between slices.{_say_mover(facts, analyses)}"]


def _where(value: str) -> str:
    return f"at {value}" if value[:1].isdigit() else value


def _are_opposite(one: Pair, other: Pair) -> bool:
    return {one.verdict, other.verdict} == {Verdict.A_STRONGER, Verdict.B_STRONGER}


def _say_mover(facts: PieceFacts, analyses: Mapping[str, Analysis]) -> str:
    ranks = {value: rank(one, find_controls(facts, one)) for value, one in analyses.items()}
    shared = [name for name in next(iter(ranks.values())) if all(name in order for order in ranks.values())]
    if len(shared) < 3:
        return ""
    places = {name: {value: order.index(name) + 1 for value, order in ranks.items()} for name in shared}
    name = max(shared, key=lambda one: max(places[one].values()) - min(places[one].values()))
    best, worst = (pick(places[name], key=places[name].__getitem__) for pick in (min, max))
    if places[name][worst] - places[name][best] < 2:
        return ""
    return (
        f" By the estimates alone {name} moves most: place {places[name][best]} {_where(best)}, "
        f"{places[name][worst]} {_where(worst)}."
    )
