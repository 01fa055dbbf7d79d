"""What went otherwise than planned with pieces that count, in sentences that stand beside the result."""

from collections.abc import Mapping, Sequence
from datetime import date

from adhaero.bench.cure.checks import list_checks
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.rows import parse_time
from adhaero.bench.glue.open_time import find_coat_waits, is_late
from adhaero.core.plan.deviations import is_early, is_off
from adhaero.core.plan.fields import Factor
from adhaero.core.stats.words import list_some, say_were
from adhaero.store.pieces import Piece

_OLD_DAYS = 365


def list_slips(
    facts: PieceFacts, open_times: Mapping[str, float | None], lowest_c: Mapping[str, float | None] | None = None
) -> list[str]:
    """Return what went otherwise than planned with the pieces that count.

    Parameters
    ----------
    open_times, lowest_c : open time and lowest temperature of the glues on the shelf, by their name in lower case.
    """
    counted = [
        piece for piece in facts.pieces.values() if piece.excluded_reason is None and facts.result_of(piece) is not None
    ]
    late = [piece for piece in counted if _closed_late(facts, piece, open_times)]
    sets = list(dict.fromkeys(facts.treatments[piece.treatment_id].name for piece in late))
    labels = [piece.label for piece in late]
    found = [f"{say_were(labels)} closed after the open time of the glue (of {list_some(sets)})."] if late else []
    for words, slipped in (
        ("in clamps more than a tenth longer or shorter than planned", _clamped_otherwise),
        ("spread again after another wait than its first coat was to have", _waited_otherwise),
        ("broken at an age more than a tenth off the plan", _aged_otherwise),
        ("broken more than a tenth before the cure was over", _broken_early),
        ("in water, weather, frost or heat more than a tenth longer or shorter than planned", _stayed_otherwise),
        ("broken without what the plan sends them through", _never_put_in),
    ):
        known = facts.each(slipped)
        labels = [piece.label for piece in counted if known[piece.id]]
        if labels:
            found.append(f"{say_were(labels)} {words}.")
    found += _missed_checks(facts, counted)
    found += _list_glue_up_slips(facts, counted, lowest_c or {})
    if noted := [f"{one.label} ({one.deviation})" for one in counted if one.deviation]:
        found.append(f"Went otherwise, and counts: {list_some(noted)}.")
    return found


def _list_glue_up_slips(facts: PlanFacts, counted: Sequence[Piece], lowest_c: Mapping[str, float | None]) -> list[str]:
    """Return what went otherwise at a glue-up, with the sets it touches, whether or not numbers can separate it."""
    found: dict[str, list[str]] = {"cold": [], "old": [], "noted": []}
    for batch in facts.batches.values():
        sets = dict.fromkeys(facts.treatments[one.treatment_id].name for one in counted if one.batch_id == batch.id)
        if not sets:
            continue
        where = f"glue-up {batch.number} ({list_some(list(sets))}"
        lowest = lowest_c.get(batch.glue.lower())
        if batch.shop_temperature_c is not None and lowest is not None and batch.shop_temperature_c < lowest:
            found["cold"].append(f"{where}; {batch.shop_temperature_c:.3g} °C, {batch.glue} asks for {lowest:.3g} °C)")
        if batch.glue_opened_on and (days := _days_open(batch.glue_opened_on, batch.started_utc)) > _OLD_DAYS:
            found["old"].append(f"{where}; {batch.glue} opened {days} days before)")
        if batch.note.strip():
            found["noted"].append(f"{where}: {batch.note.strip()})")
    heads = {
        "cold": "Glued colder than the glue asks for",
        "old": "Glued from a bottle opened more than a year before",
        "noted": "Noted at a glue-up",
    }
    return [f"{heads[kind]}: {list_some(mine)}." for kind, mine in found.items() if mine]


def _days_open(opened_on: str, started_utc: str) -> int:
    try:
        return (date.fromisoformat(started_utc[:10]) - date.fromisoformat(opened_on[:10])).days
    except ValueError:
        return 0


def _clamped_otherwise(facts: PieceFacts, piece: Piece) -> bool:
    life = facts.life_of(piece)
    return life.clamped_s is not None and bool(life.clamp_time_s) and is_off(life.clamped_s, life.clamp_time_s)


def _closed_late(facts: PieceFacts, piece: Piece, open_times: Mapping[str, float | None]) -> bool:
    batch = facts.batches.get(piece.batch_id or 0)
    return batch is not None and is_late(facts, piece, open_times.get(batch.glue.lower()))


def _waited_otherwise(facts: PlanFacts, piece: Piece) -> bool:
    return any(is_off(real, planned) for real, planned in find_coat_waits(facts, piece))


def _aged_otherwise(facts: PieceFacts, piece: Piece) -> bool:
    """Return whether the age at the test is what varies, and this piece's was off."""
    age = facts.age_of(piece)
    return (
        Factor.CURE_TIME in facts.kinds.values() and age is not None and is_off(age, facts.life_of(piece).cure_time_s)
    )


def _broken_early(facts: PieceFacts, piece: Piece) -> bool:
    """Return whether a piece was broken young; where the age itself varies, `_aged_otherwise` names it."""
    age, planned = facts.age_of(piece), facts.life_of(piece).cure_time_s
    return Factor.CURE_TIME not in facts.kinds.values() and is_early(age, planned)


def _stayed_otherwise(facts: PlanFacts, piece: Piece) -> bool:
    for one in facts.exposures.get(piece.id, ()):
        begun, ended = parse_time(one.begun_utc), parse_time(one.ended_utc)
        if begun and ended and one.planned_s and is_off((ended - begun).total_seconds(), one.planned_s):
            return True
    return False


def _never_put_in(facts: PieceFacts, piece: Piece) -> bool:
    return facts.life_of(piece).to_go_in


def _missed_checks(facts: PieceFacts, pieces: Sequence[Piece]) -> list[str]:
    """Name work that should have been done before the test and was not ticked, or was ticked after the break."""
    missed: dict[str, list[str]] = {}
    afterwards: dict[str, list[str]] = {}
    planned = {step.words for step in facts.steps if step.turn == "after"}
    begun = {one.words for mine in facts.ticks.values() for one in mine}
    for piece in pieces if planned | begun else ():
        result = facts.result_of(piece)
        for check in list_checks(facts, piece):
            # the fixture's list is advice until someone uses it
            if check.words not in planned | begun or result is None:
                continue
            if check.done_utc is None:
                missed.setdefault(check.words, []).append(piece.label)
            elif check.done_utc > (result.ended_utc or result.started_utc):
                afterwards.setdefault(check.words, []).append(piece.label)
    return [f"{say_were(labels)} broken without “{words}”." for words, labels in missed.items()] + [
        f"{say_were(labels)} ticked for “{words}” after the break." for words, labels in afterwards.items()
    ]
