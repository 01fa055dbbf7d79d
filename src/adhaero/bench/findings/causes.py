"""Findings about what makes the difference: the things varied, conditions, and what nobody meant to vary."""

from collections.abc import Sequence
from dataclasses import replace

from adhaero.bench.book import Book, parse_time
from adhaero.bench.findings.asked import Asked, Finding, Row
from adhaero.bench.how import How
from adhaero.bench.planning import find_pairing
from adhaero.core.errors import DataError, EntryError
from adhaero.core.stats.causes import Cause, judge_causes, say_causes
from adhaero.core.stats.composite import combine_conditions, say_composite
from adhaero.core.stats.factor_words import say_factors, say_retention
from adhaero.core.stats.factors import Factors
from adhaero.core.stats.retention import compute_retention
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


def find_retention(asked: Asked) -> Finding | None:
    """Return what each set keeps in another condition, pair by pair where pieces are matched; None without one."""
    pairing = find_pairing(asked.book)
    name = asked.book.words_of(pairing) if pairing else asked.condition
    if name is None:
        return None
    values = list(dict.fromkeys(one.factors[name] for one in asked.made_of() if one.excluded is None))
    matched = pairing is not None
    specimens = asked.made_of()
    if matched:
        specimens = tuple(replace(one, block=_pair_of(asked.pieces[one.label])) for one in specimens)
    said, rows, method = [], list[Row](), ""
    for after in values[1:]:
        result = None
        for block in ("pair",) if matched else dict.fromkeys((asked.question.block, None)):
            table = asked.table(specimens, block)
            try:
                if table is not None:
                    result = compute_retention(table, name, values[0], after, asked.margin, matched=matched)
                    break
            except DataError:
                continue
        if result is None:
            continue
        method = result.method
        said += say_retention(result)
        for one in result.kept:
            ends = "–" if one.ci95 is None else f"{100 * one.ci95[0]:.0f} to {100 * one.ci95[1]:.0f} %"
            pieces = f"{one.paired} pairs" if result.method == "pairs" else f"{one.n_before} and {one.n_after}"
            rows.append([one.level, after, "–" if one.share is None else f"{100 * one.share:.0f} %", ends, pieces])
    if not said:
        return None
    words = {
        "pairs": "Each piece against its partner: the average of their log ratios, with its t range.",
        "sets": "Differences of the typical strengths on logarithms, one scatter for all sets.",
        "blocked": "Differences of the typical strengths on logarithms, within boards.",
        "censored": "Differences of the typical strengths on logarithms, bounds counted as bounds.",
    }
    return Finding(
        "retention",
        f"What is left of the strength ({name})",
        said,
        How(
            words[method],
            f"share kept = typical strength after / typical strength {values[0]}",
            "each range for its set alone; shares compared with simultaneous ranges",
            "what-a-condition-leaves",
        ),
        ["set", "after", "keeps", "likely range", "pieces"],
        rows,
    )


def _pair_of(piece: Piece) -> str | None:
    return None if piece.pair is None else f"{piece.board_id}/{piece.pair}"


def find_composite(asked: Asked, weights: str) -> Finding | None:
    """Return one mark from all conditions, with the weights as typed (equal without); None without conditions."""
    if asked.condition is None or len(asked.conditions) < 2:
        return None
    strengths: dict[str, dict[str, float]] = {one: {} for one in asked.conditions}
    typical = {one.level: one.typical for one in asked.analysis.groups}
    for one in asked.made_of():
        rest = ", ".join(value for name, value in one.factors.items() if name != asked.condition) or "all"
        value = typical.get(one.level)
        if value is not None and value > 0:
            strengths[one.factors[asked.condition]][rest] = value
    try:
        result = combine_conditions(strengths, _read_weights(weights, asked.conditions))
    except EntryError:
        if weights.strip():
            raise
        return None
    if len(result.order) < 2:
        return None
    return Finding(
        "composite",
        "All conditions in one mark",
        say_composite(result),
        How(
            "A weighted geometric mean: 100 is the best set of every condition.",
            "mark = product over conditions of (typical strength / best typical strength of that condition) ^ weight",
            "typical strengths as shown above; the marks carry no range of their own",
            "a-composite-of-conditions",
        ),
        ["set", "mark"],
        [[name, f"{100 * result.marks[name]:.0f}"] for name in result.order],
    )


def _read_weights(text: str, conditions: Sequence[str]) -> dict[str, float]:
    """Read `dry 2, soaked 1`; nothing gives equal weights."""
    if not text.strip():
        return dict.fromkeys(conditions, 1.0)
    found = {}
    for part in text.replace(";", ",").split(","):
        words, _, number = part.strip().rpartition(" ")
        name = next((one for one in conditions if one.lower() == words.strip(" :=").lower()), None)
        try:
            weight = float(number.rstrip("%"))
        except ValueError:
            weight = -1.0
        if name is None or weight < 0:
            raise EntryError(
                f"“{part.strip()}” was not understood.",
                f"Expected a condition and its weight, e.g. “{conditions[0]} 2, {conditions[-1]} 1”.",
                field="weights",
            )
        found[name] = weight
    return found


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
    book = asked.book
    dealt = [book.dealt(piece) for piece in pieces]
    rounds = (book.clamp_rounds.get(piece.id) for piece in pieces)
    return [
        *(() if asked.question.block else (Cause("The board", tuple(one.board for one in dealt)),)),
        Cause("The glue-up", tuple(one.glue_up for one in dealt)),
        Cause("The clamping round", tuple(None if turn is None else str(turn) for turn in rounds)),
        Cause("The order of gluing", tuple(one.glue_turn for one in dealt)),
        Cause("The order of breaking", tuple(one.break_turn for one in dealt)),
        *(
            Cause(words, tuple(known[piece.id] for piece in pieces))
            for words, known in (
                ("The time in clamps against the plan", book.each(_clamped_share)),
                ("The age at the test against the plan", book.each(_aged_share)),
                ("The rig", book.each(_rig)),
                ("The calibration", book.each(_calibration)),
            )
        ),
    ]


def _share(real: float | None, planned: float | None) -> float | None:
    return None if real is None or not planned else real / planned


def _clamped_share(book: Book, piece: Piece) -> float | None:
    life = book.life_of(piece)
    return _share(life.clamped_s, life.clamp_time_s)


def _aged_share(book: Book, piece: Piece) -> float | None:
    life, result = book.life_of(piece), book.result_of(piece)
    broken = parse_time(result.started_utc) if result else None
    return _share((broken - life.closed_at).total_seconds() if life.closed_at and broken else None, life.cure_time_s)


def _rig(book: Book, piece: Piece) -> str:
    result = book.result_of(piece)
    return book.rigs.get(result.rig_id or 0, "by hand") if result else "by hand"


def _calibration(book: Book, piece: Piece) -> str | None:
    result = book.result_of(piece)
    return None if result is None or result.calibration_id is None else str(result.calibration_id)
