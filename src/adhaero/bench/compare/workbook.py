"""A trial as a workbook: its pieces, its sets, its pairs, and what is to be known about them."""

from collections.abc import Sequence

from adhaero.bench.breaking.corrections import say_correction
from adhaero.bench.compare.breaks import Choice, collect_breaks, count_attempts
from adhaero.bench.compare.result_units import read_result_units
from adhaero.bench.compare.view import CompareView, view_compare
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.core.pulls import FAILED_IN_WORDS
from adhaero.core.quantity import Kind
from adhaero.core.stats.breaks import OUTCOME_WORDS, Specimen
from adhaero.core.stats.pairs import Ends
from adhaero.core.units import DisplayUnit, Units, display_unit, response_unit
from adhaero.files.report.page import CAUTION
from adhaero.files.workbook import Value, WorkbookTable, write_workbook
from adhaero.store.file import ShopFile
from adhaero.store.pieces import Piece


def export_workbook(file: ShopFile, trial_id: int, choice: Choice) -> bytes:
    """Return a trial as a workbook, in the shop's units."""
    view = view_compare(file, trial_id, choice)
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        units = read_result_units(connection, facts, choice)
    unit = response_unit(view.kind, units)
    return write_workbook(
        [
            _list_pieces(facts, choice, view, units, unit),
            _list_sets(view, unit),
            _list_pairs(view),
            _list_about(facts, view),
        ]
    )


def _list_pieces(
    facts: PieceFacts, choice: Choice, view: CompareView, units: Units, unit: DisplayUnit
) -> WorkbookTable:
    force, length = display_unit(Kind.FORCE, units.force), display_unit(Kind.LENGTH, units.length)
    breaks = collect_breaks(facts, choice)
    varied = [facts.words_of(row) for row in facts.factors.values()] if len(facts.factors) > 1 else []
    sizes = list(dict.fromkeys(name for piece in breaks.pieces for name in facts.measurements.get(piece.id, {})))
    columns = [
        "piece", "set", *varied, "board", "wood", f"{view.kind_words}, {unit.symbol}", f"held, {unit.symbol}",
        f"load, {force.symbol}", "load as typed", "what happened", "torn wood, %", "failed in", "set aside because",
        "broken on", "age, h", "rig", "tries", *(f"{_say_size(name)}, {_size_unit(name, length)}" for name in sizes),
        "note", "corrections",
    ]  # fmt: skip
    rows = [
        _give_piece(facts, piece, one, varied, sizes, unit, force, length)
        for piece, one in zip(breaks.pieces, breaks.specimens, strict=True)
    ]
    return WorkbookTable("Pieces", columns, rows)


def _say_size(name: str) -> str:
    return name.removesuffix("_mm").removesuffix("_mm2").replace("_", " ")


def _size_unit(name: str, length: DisplayUnit) -> str:
    return length.symbol if name.endswith("_mm") else "mm"


def _give_piece(
    facts: PieceFacts,
    piece: Piece,
    one: Specimen,
    varied: Sequence[str],
    sizes: Sequence[str],
    unit: DisplayUnit,
    force: DisplayUnit,
    length: DisplayUnit,
) -> list[Value]:
    result, age = facts.result_of(piece), facts.age_of(piece)
    measured = facts.measurements.get(piece.id, {})
    return [
        piece.label,
        one.level,
        *(one.factors.get(name, "") for name in varied),
        one.block,
        one.wood,
        _times(one.value, unit),
        _times(one.held_value, unit),
        _times(result.load_n if result else None, force),
        f"{result.load_typed} {result.load_through}".strip() if result else "",
        OUTCOME_WORDS[one.outcome].rstrip(","),
        one.wood_failure_pct,
        FAILED_IN_WORDS[result.failure] if result and result.failure else "",
        one.excluded,
        "" if result is None or result.undated else result.started_utc[:16].replace("T", " "),
        None if age is None else round(age / 3600, 2),
        facts.name_rig(result),
        count_attempts(facts, piece),
        *(_times(measured[name].mm, length) if name in measured else None for name in sizes),
        "; ".join(part for part in (piece.note, result.note if result else "") if part),
        "; ".join(say_correction(change) for change in facts.corrections.get(piece.id, ())),
    ]


def _times(value: float | None, unit: DisplayUnit) -> float | None:
    return None if value is None else value * unit.per_si


def _list_sets(view: CompareView, unit: DisplayUnit) -> WorkbookTable:
    in_unit = f", {unit.symbol}"
    columns = [
        "set", "pieces", "broke", f"average{in_unit}", f"typical{in_unit}", f"typical from{in_unit}",
        f"typical to{in_unit}", f"middle{in_unit}", f"worst{in_unit}", f"best{in_unit}", "scatter, %", "torn wood, %",
        f"19 in 20 above{in_unit}", f"at least{in_unit}", f"at most{in_unit}", "alike",
    ]  # fmt: skip
    rows: list[list[Value]] = []
    for group in view.groups:
        low, high = group.typical_ci95 or (None, None)
        read = group.as_read
        rows.append(
            [
                group.level, group.n, group.n_broke, _times(read.mean, unit), _times(group.typical, unit),
                _times(low, unit), _times(high, unit), _times(read.median, unit), _times(read.min, unit),
                _times(read.max, unit), read.cv_pct, group.wood_failure_pct, _times(group.lower_5pct, unit),
                _times(group.at_least, unit), _times(group.at_most, unit), group.letters,
            ]
        )  # fmt: skip
    return WorkbookTable("Sets", columns, rows)


def _list_pairs(view: CompareView) -> WorkbookTable:
    columns = ["first", "second", "first differs by, %", "from, %", "to, %", "the first is", "in words"]
    rows: list[list[Value]] = [
        [one.a, one.b, _percent(one.ratio), *_percents(one.ratio_ci95), one.is_, one.words] for one in view.pairs
    ]
    return WorkbookTable("Pairs", columns, rows)


def _percent(ratio: float | None) -> float | None:
    return None if ratio is None else 100 * (ratio - 1)


def _percents(ends: Ends | None) -> tuple[float | None, float | None]:
    low, high = ends or (None, None)
    return _percent(low), _percent(high)


def _list_about(facts: PieceFacts, view: CompareView) -> WorkbookTable:
    lines: list[tuple[str, str]] = [("question", facts.trial.question)]
    if facts.trial.guess:
        lines.append(("guess", facts.trial.guess))
    if view.summary is not None:
        lines += [("answer", view.summary.headline), ("averages", view.summary.averages)]
    if view.waits:
        lines.append(("the verdict waits", view.waits))
    if facts.trial.practice:
        lines.append(("practice", "These pieces were broken for practice, some by a simulated rig."))
    if facts.trial.conclusion:
        lines.append(("concluded", facts.trial.conclusion))
    lines += [("to mind", words) for words in view.mind]
    lines += [("set aside", f"{one.specimen}: {one.reason}") for one in (*view.excluded, *view.voided)]
    lines += [("changed", words) for words in view.amended]
    lines += [("method", words) for words in view.method]
    lines.append(("caution", CAUTION))
    return WorkbookTable("About", ["what", "words"], [list(one) for one in lines], wraps=True, widths=(18, 100))
