"""Findings about what makes the difference: the things varied, and what nobody meant to vary."""

from collections.abc import Sequence

from adhaero.bench.compare.findings.asked import Asked, Finding, Row
from adhaero.bench.compare.how_known import How
from adhaero.bench.facts.made_late import find_made_late
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.core.stats.causes import Cause, judge_causes, say_causes
from adhaero.core.stats.factor_words import say_factors
from adhaero.core.stats.factors import Factors
from adhaero.core.stats.words import capital, say_chance
from adhaero.store.pieces import Piece


def find_factors(asked: Asked, factors: Factors | None) -> Finding | None:
    """Return what each thing that is varied does, and whether they act together; None where one is varied."""
    if factors is None:
        return None
    rows: list[Row] = []
    for effect in factors.effects:
        chance = "–" if effect.test is None else say_chance(effect.test.p)
        rows += [
            [effect.factor if turn == 0 else "", one.level, str(one.n), one.typical, chance if turn == 0 else ""]
            for turn, one in enumerate(effect.levels)
        ]
    return Finding(
        "factors",
        "What each thing does, and together",
        [capital(words) for words in say_factors(factors, asked.margin)],
        How(
            "One model of logarithms with every combination (and boards); effects are its contrasts, every combination "
            "of the other things counted once; tests of nested models, each beside all that do not contain it.",
            "effect = average over the others of (typical of one value / typical of the other); together = does that "
            "ratio change with the others?",
            f"{len(asked.made_of())} pieces; ranges of one thing hold together in 19 of 20 trials (Bonferroni)",
            "several-things-varied",
        ),
        ["what", "value", "pieces", "typical", "by chance alone"],
        rows,
    )


def find_causes(asked: Asked) -> Finding | None:
    """Return whether boards, rounds, rigs, days or ages explain what the sets do; None where nothing varies."""
    specimens = asked.joined()
    table = asked.table(specimens, asked.question.block)
    if table is None or len(table.levels) < 2:
        return None
    causes = _list_causes(asked, [asked.pieces[one.label] for one in table.counted])
    tests = judge_causes(table, causes)
    if not tests:
        return None
    said = say_causes(tests) or ["None of them explains what the sets do not."]
    rows: list[Row] = []
    for one in tests:
        shares = ["–" if share is None else f"{100 * share:.0f} %" for share in (one.alone, one.sets)]
        beside = "–" if one.beside is None else say_chance(one.beside.p)
        if one.aliased:
            beside = "changes with the sets" if one.beside is None else f"within the sets {beside}"
        rows.append([one.name, str(one.n), *shares, beside])
    return Finding(
        "causes",
        "Could it be something else",
        said,
        How(
            "Nested models of logarithms: the sets, then the cause beside them, and the other way round.",
            "explains = adjusted share of the variance; by chance alone = F (likelihood ratio with bounds) of the "
            "cause once the sets are known",
            "glued pieces that count and of which the cause is known; each tested at 5 % over the number of causes",
            "other-causes",
        ),
        ["cause", "pieces", "explains alone", "the sets alone", "beside the sets, by chance"],
        rows,
    )


def _list_causes(asked: Asked, pieces: Sequence[Piece]) -> list[Cause]:
    facts = asked.facts
    dealt = [facts.dealt(piece) for piece in pieces]
    rounds = (facts.clamp_rounds.get(piece.id) for piece in pieces)
    return [
        *(() if asked.question.block else (Cause("The board", tuple(one.board for one in dealt)),)),
        Cause("The glue-up", tuple(one.batch for one in dealt)),
        Cause("The clamping round", tuple(None if turn is None else str(turn) for turn in rounds)),
        Cause("The order of gluing", tuple(one.glue_turn for one in dealt)),
        Cause("The order of breaking", tuple(one.break_turn for one in dealt)),
        Cause("Made before or after the first break", _list_made(facts, pieces)),
        *(
            Cause(words, tuple(known[piece.id] for piece in pieces))
            for words, known in (
                ("The time in clamps against the plan", facts.each(_clamped_share)),
                ("The age at the test against the plan", facts.each(_aged_share)),
                ("The rig", facts.each(_rig)),
                ("The calibration", facts.each(_calibration)),
            )
        ),
    ]


def _list_made(facts: PieceFacts, pieces: Sequence[Piece]) -> tuple[str | None, ...]:
    late = find_made_late(facts)
    closed = (facts.life_of(piece).closed_at is not None for piece in pieces)
    return tuple(
        ("after" if piece.id in late else "before") if known else None
        for piece, known in zip(pieces, closed, strict=True)
    )


def _share(real: float | None, planned: float | None) -> float | None:
    return None if real is None or not planned else real / planned


def _clamped_share(facts: PieceFacts, piece: Piece) -> float | None:
    life = facts.life_of(piece)
    return _share(life.clamped_s, life.clamp_time_s)


def _aged_share(facts: PieceFacts, piece: Piece) -> float | None:
    return _share(facts.age_of(piece), facts.life_of(piece).cure_time_s)


def _rig(facts: PieceFacts, piece: Piece) -> str:
    result = facts.result_of(piece)
    return facts.name_rig(result)


def _calibration(facts: PieceFacts, piece: Piece) -> str | None:
    result = facts.result_of(piece)
    return None if result is None or result.calibration_id is None else str(result.calibration_id)
