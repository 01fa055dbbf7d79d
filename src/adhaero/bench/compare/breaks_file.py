"""The tidy breaks file of a trial, and the command that analyses it as Compare does."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from adhaero.bench.compare.breaks import BLOCK, Choice, collect_breaks, count_attempts, slug_of
from adhaero.bench.facts.book import Book, read_book
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.plan.fields import QUANTITIES
from adhaero.core.plan.treatments import SetKind
from adhaero.core.stats.analyse import Question
from adhaero.core.stats.breaks import Estimate, Specimen
from adhaero.files.tidy_csv import write_tidy
from adhaero.store.file import ShopFile
from adhaero.store.pieces import Piece


@dataclass(frozen=True)
class TidyFile:
    """A tidy breaks file and the command that analyses it as the screen does; another for several things varied."""

    name: str
    content: str
    command: str
    factors_command: str


def export_breaks(file: ShopFile, trial_id: int, choice: Choice) -> TidyFile:
    """Return the tidy breaks file of a trial, all digits kept."""
    with file.reading() as connection:
        book = read_book(connection, trial_id)
    breaks = collect_breaks(book, choice)
    question, by = breaks.question, breaks.question.by
    sizes = [name for name in QUANTITIES if name in FIXTURES[book.fixture].sizes]
    varied = {} if len(book.factors) == 1 else _name_columns(book)
    columns = [
        "specimen",
        by,
        *varied.values(),
        "board",
        "species",
        book.response,
        f"held_{book.response}",
        "outcome",
        "wood_failure_pct",
        "excluded",
        "load_N",
        *sizes,
    ]
    columns += [
        "sizes_from_plan",
        "tries",
        "looked_odd",
        "failure",
        "glue_up",
        "clamped_s",
        "rig",
        "calibration",
        "fixture",
        "note",
    ]
    levels = {one.level for one in breaks.compared}
    rows = [
        _tidy_row(book, piece, one, by, sizes, varied)
        for piece, one in zip(breaks.pieces, breaks.specimens, strict=True)
        if one.level in levels
    ]
    name = f"adhaero-trial-{trial_id}-breaks.csv"
    options = f" --block {BLOCK}" if question.block else ""
    options += f' --control "{question.control}"' if question.control else ""
    options += f" --estimate {question.estimate}" if question.estimate is not Estimate.JOINT else ""
    margin = "" if question.margin_pct == Question.margin_pct else f" --margin {question.margin_pct!r}"
    start = f"adhaero analyse {name} --response {book.response}"
    each = "".join(f" --by {column}" for column in varied.values())
    return TidyFile(
        name,
        write_tidy(columns, rows),
        f"{start} --by {by}{options}{margin}",
        f"{start}{each}{options}{margin}" if len(varied) > 1 and question.control is None else "",
    )


def _name_columns(book: Book) -> dict[int, str]:
    """Return a column for each thing that is varied, none named like another."""
    found: dict[int, str] = {}
    for factor in book.factors.values():
        slug = slug_of(book, factor)
        found[factor.id] = next(
            name for name in (slug, *(f"{slug}_{n}" for n in range(2, 9))) if name not in found.values()
        )
    return found


def _tidy_row(
    book: Book, piece: Piece, one: Specimen, by: str, sizes: Sequence[str], varied: Mapping[int, str]
) -> dict[str, object]:
    result = book.result_of(piece)
    batch = book.batches.get(piece.batch_id or 0)
    used = book.sizes_of(piece)
    made = book.treatments[piece.treatment_id].kind == SetKind.MADE
    levels = {level.factor_id: level.name for level in book.levels_of.get(piece.treatment_id, ())} if made else {}
    return {
        "specimen": one.label,
        by: one.level,
        **{name: levels.get(factor_id, "") for factor_id, name in varied.items()},
        "board": one.block,
        "species": book.boards[piece.board_id].species,
        book.response: one.value,
        f"held_{book.response}": one.held_value,
        "outcome": one.outcome.value,
        "wood_failure_pct": one.wood_failure_pct,
        "excluded": one.excluded,
        "load_N": result.load_n if result else None,
        **{name: used.get(name) for name in sizes},
        "sizes_from_plan": " ".join(book.unmeasured(piece)),
        "tries": count_attempts(book, piece),
        "looked_odd": piece.odd_reason,
        "failure": result.failure if result else None,
        "glue_up": batch.number if batch else None,
        "clamped_s": book.life_of(piece).clamped_s,
        "fixture": book.fixture.value,
        "note": result.note if result else "",
        **one.circumstances,
    }
