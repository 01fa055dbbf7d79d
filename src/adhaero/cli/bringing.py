"""The command that reads a table of breaks that somebody keeps."""

import json
from pathlib import Path
from typing import Annotated, Any

import typer

from adhaero.cli.common import Json, app, number, print_result
from adhaero.core.errors import DataError, EntryError

Table = Annotated[Path, typer.Argument(exists=True, dir_okay=False, help="A workbook or a text table.")]


@app.command("bring-in")
def bring_in_command(
    file: Table,
    sheet: Annotated[str, typer.Option(help="Read this sheet alone.")] = "",
    reading: Annotated[
        Path | None, typer.Option(exists=True, dir_okay=False, help="A reading as this gives it.")
    ] = None,
    answer: Annotated[list[str] | None, typer.Option(help="ABOUT SUBJECT=CHOICE, to a question.")] = None,
    against: Annotated[
        Path | None, typer.Option(exists=True, dir_okay=False, help="An older file of the kind.")
    ] = None,
    encoding: Annotated[str, typer.Option(help="Of a text table, if it is not recognised.")] = "",
    as_json: Json = False,
) -> None:
    """Read a table of breaks: its pieces, what must be asked, and what its own arithmetic gets wrong."""
    from adhaero.core.tables.against import compare_files
    from adhaero.core.tables.answers import Answers, read_answers
    from adhaero.core.tables.bring_in import bring_in
    from adhaero.core.tables.checks import check_arithmetic
    from adhaero.core.tables.corrections import NONE
    from adhaero.core.tables.documents import give_document, read_reading
    from adhaero.files.sheets.open_book import open_book

    answers, said = read_answers(answer or ()), NONE
    if reading is not None:
        said, kept = read_reading(_read_json(reading))
        answers = Answers((*answers.given, *kept.given))
    found = bring_in(open_book(file.read_bytes(), encoding), answers, sheet, said)
    changes = None
    if against is not None:
        older = bring_in(open_book(against.read_bytes(), encoding), answers, sheet, said)
        changes = compare_files(found.rows, older.rows)
    document = give_document(found, check_arithmetic(found), answers, said, changes)
    print_result(document, as_json, lambda: _word(document))


def _read_json(path: Path) -> dict[str, Any]:
    try:
        document = json.loads(path.read_text(encoding="utf-8"))
    except (ValueError, OSError) as error:
        raise DataError(f"{path} is no reading ({error}).") from None
    if not isinstance(document, dict):
        raise EntryError(f"{path} is no reading.", "Expected what bring-in gives out as “reading”.", field="reading")
    return document.get("reading", document) if isinstance(document.get("reading", {}), dict) else document


def _word(document: dict[str, Any]) -> str:
    lines = [
        f"{region['range']}: {region['layout']}, "
        + ", ".join(f"{column} {role}" for column, role in region["columns"].items())
        for region in document["reading"]["regions"]
    ]
    sets: dict[str, int] = {}
    for row in document["rows"]:
        name = ", ".join([row["set"], *row["factors"].values()])
        sets[name] = sets.get(name, 0) + 1
    lines += ["", f"{len(document['rows'])} pieces in {len(sets)} sets"]
    lines += [f"  {name}: {count}" for name, count in list(sets.items())[:40]]
    for one in document["questions"]:
        choices = " / ".join(one["choices"]) or "a number"
        lines.append(f"Asked: {one['words']} ({one['about']} {one['subject']}: {choices}) {one['cells']}")
    lines += [f"No pieces: {one['cells']} ({one['why']})" for one in document["refused"]]
    agree = sum(one["standing"] == "agrees" for one in document["checks"])
    wrong = [one["words"] for one in document["checks"] if one["standing"] == "differs"]
    lines += [f"{agree} of its own numbers agree, {len(wrong)} differ.", *wrong]
    for one in document.get("changes", []):
        cell = one["cell"] or one["old_cell"]
        lines.append(f"{one['kind']}: {cell} {number(one['old'])} → {number(one['new'])}")
    return "\n".join(lines)
