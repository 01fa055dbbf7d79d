"""What stands beside a comparison: what to mind, how its numbers were made, what the question makes of torn wood."""

from collections.abc import Sequence

from adhaero.bench.breaking.typed_load import counts_more_than_is_typed
from adhaero.bench.compare.breaks import Breaks, Choice
from adhaero.bench.compare.dots import Dot
from adhaero.bench.compare.how_broken import list_mixed, list_speeds, list_stood, say_corrected, was_doubted
from adhaero.bench.compare.slices import WOOD, list_in
from adhaero.bench.facts.made_late import find_made_late
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.fixture import UNSAID
from adhaero.core.plan.confounds import find_confounds
from adhaero.core.response import FORMS as RESPONSES
from adhaero.core.stats.analyse import Question
from adhaero.core.stats.breaks import Estimate
from adhaero.core.stats.laws import CLEAR
from adhaero.core.stats.words import and_join, list_some, say_were
from adhaero.store.pieces import Piece


def say_mind(facts: PieceFacts, breaks: Breaks, dots: Sequence[Dot]) -> list[str]:
    """Return what is to be minded beside a comparison, in sentences."""
    used, compared, analysis = breaks.pieces, breaks.compared, breaks.analysis
    found = list(analysis.warnings) if analysis else []
    if breaks.unread:
        found.append(f"Broken without a displacement that says it, and not compared here: {list_some(breaks.unread)}.")
    left_out = [
        name for name in dict.fromkeys(dot.treatment for dot in dots) if all(one.level != name for one in compared)
    ]
    found += [f"{name} has no piece that counts and is not compared." for name in left_out]
    solid = [one.name for one in facts.made if one.solid and any(dot.treatment == one.name for dot in dots)]
    if breaks.cut is not None and breaks.cut.name != WOOD and solid:
        found.append(f"{and_join(solid)} went through nothing that parts the slices, and stands in each as it is.")
    planned = [dot.label for dot in dots if dot.sizes_from_plan]
    if planned:
        found.append(f"{say_were(planned)} not measured: the planned sizes were used.")
    if twice := [f"{dot.label} ({dot.attempts} times)" for dot in dots if dot.attempts > 1]:
        found.append(f"Loaded more than once, the last try counts: {list_some(twice)}.")
    if as_typed := [one.label for one in used if _stands_as_typed(facts, one)]:
        found.append(f"Typed without the hanger and lever of the rig, and not changed: {list_some(as_typed)}.")
    if elsewhere := [f"{one.label} ({words})" for one in used if (words := _read_elsewhere(facts, one))]:
        found.append(f"Read elsewhere than at the highest load: {list_some(elsewhere)}.")
    if corrected := [f"{one.label} ({words})" for one in used if (words := say_corrected(facts, one))]:
        found.append(f"Corrected after the break: {list_some(corrected)}.")
    if doubted := [one.label for one in used if was_doubted(facts, one)]:
        found.append(f"{say_were(doubted)} asked about when typed, and kept as typed.")
    found += list_mixed(facts, used) + list_speeds(facts, used) + list_stood(facts, used)
    odd = [f"{one.label} ({one.odd_reason})" for one in used if one.odd_reason and one.excluded_reason is None]
    if odd:
        found.append(f"Looked odd before the break, and counts: {list_some(odd)}.")
    counted = [piece for piece in used if piece.excluded_reason is None]
    found += find_confounds(
        [facts.dealt(piece) for piece in counted], [facts.clamp_rounds.get(piece.id) for piece in counted]
    )
    found += _say_late(facts, counted)
    there = [piece for piece in list_in(facts, breaks.cut) if piece.void_reason is None]
    waiting = len(there) - len(used) - len(breaks.unread)
    if waiting:
        found.append(f"{waiting} {'piece is' if waiting == 1 else 'pieces are'} not broken yet.")
    return found


def _say_late(facts: PieceFacts, counted: Sequence[Piece]) -> list[str]:
    """Return which sets were made, wholly or in part, after the first break: the day could look like the set."""
    late = find_made_late(facts)
    whole, part = list[str](), list[str]()
    for one in facts.made:
        mine = [piece for piece in counted if piece.treatment_id == one.id]
        after = sum(piece.id in late for piece in mine)
        if after and after == len(mine):
            whole.append(one.name)
        elif after:
            part.append(f"{after} of {len(mine)} of {one.name}")
    found = []
    if whole and len(whole) < len(facts.made):
        found.append(
            f"{say_were(whole)} made after the first pieces were broken: what the later day, mix and hand did would "
            "look like the set."
        )
    if part:
        found.append(f"Made after the first pieces were broken: {list_some(part)}.")
    return found


def _stands_as_typed(facts: PieceFacts, piece: Piece) -> bool:
    """Return whether the load of a piece was typed and stands so, although its rig has a hanger or a lever."""
    result = facts.result_of(piece)
    return (
        counts_more_than_is_typed(facts.rig)
        and result is not None
        and result.source == "hand"
        and result.rig_id is None
        and bool(result.load_n)
        and not result.load_through
    )


def _read_elsewhere(facts: PieceFacts, piece: Piece) -> str:
    """Return why the load of a piece was not read at the highest of its trace; empty where it was."""
    result = facts.result_of(piece)
    return result.load_point_reason if result is not None and result.load_point != "highest" else ""


def _say_sizes(dots: Sequence[Dot]) -> str:
    planned = sum(dot.sizes_from_plan for dot in dots)
    if planned == 0:
        return "the measured sizes of each piece"
    return "the planned sizes: none was measured" if planned == len(dots) else "measured sizes where there are any"


def say_method(facts: PlanFacts, choice: Choice, breaks: Breaks, dots: Sequence[Dot]) -> list[str]:
    """Return how the numbers were made, in sentences."""
    question, analysis = breaks.question, breaks.analysis
    form, response = FIXTURES[facts.fixture], RESPONSES[choice.response]
    if form.kind == "none":
        return [f"A pried piece passes with torn wood on {Question.wood_failure_from:g} % of its face or more."]
    said = [response.says] if response.says else []
    if not response.kind and facts.fixture in UNSAID:
        said.append(f"Compared is what was brought in, as it is: {form.formula}. How the pieces sat is not known.")
    elif not response.kind:
        said.append(
            f"Strength is {'the moment' if form.kind == 'moment' else f'{form.kind} stress'}: {form.formula}, "
            f"with {_say_sizes(dots)}."
        )
    said.append(
        f"Typical {response.noun} is the one that half of such joints exceed (the average of the logarithms); its "
        "likely range holds the true one in 19 of 20 such trials (t)."
    )
    if analysis is not None and any(one.n_broke < one.n for one in analysis.groups):
        said.append("What held, fell apart or broke between weights counts as a bound, and few pieces as few.")
    if analysis is None or not analysis.pairs:
        return said
    method = None if analysis.overall is None else analysis.overall.method
    if method == "blocked":
        said.append("Sets are compared within boards, on logarithms, so that a strong board favours none.")
    elif method == "mixed-boards":
        said.append("Sets are compared on logarithms; the boards do not connect them all, and count as chance.")
    else:
        said.append("Sets are compared on logarithms, each by its own scatter (Games and Howell).")
    together = "The range is" if len(analysis.pairs) == 1 else f"All {len(analysis.pairs)} ranges together are"
    if question.confidence != Question.confidence:
        said.append(
            "This trial is looked at after each complete board, as planned: its ranges are wider "
            f"({100 * question.confidence:.2f} % at this look), so that those of all looks together are right in 19 of "
            "20 such trials."
        )
        together = f"Over all looks {together[:1].lower()}{together[1:]}"
    said.append(
        f"{together} right in 19 of 20 such trials; differences below {question.margin_pct:g} % do not matter to you."
    )
    if breaks.cut is not None:
        said.append("Each slice is judged by itself: over all of them together a wrong range is likelier.")
    if analysis.overall is not None and analysis.overall.p < CLEAR:
        said.append("Taken together, the sets differ by more than chance.")
    elif analysis.overall is not None:
        said.append("Taken together, the differences between the sets that have an estimate could be chance.")
    return said


def say_judged(question: Question) -> str:
    """Return what the chosen question makes of torn wood."""
    if question.estimate is Estimate.JOINT:
        return "As built: every break counts at its value, torn wood included. Whatever gives way, that is the joint."
    return (
        f"Glue alone: a face torn {question.wood_failure_from:g} % or more says only that the glue held at least that. "
        "Such a piece counts as a bound, not as a number, and the typical strength is estimated from both."
    )
