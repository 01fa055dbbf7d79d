"""The front end's files: no circle among their imports, and what all rooms use knows no room."""

import graphlib
import re
from pathlib import Path

SOURCE = Path(__file__).parents[2] / "web" / "src"
SHARED = {"api", "charts", "drawings", "ui"}
FROM = re.compile(r'(?:from|import)\s*\(?\s*"(\.[^"]+)"')


def read_imports() -> dict[str, set[str]]:
    """Return the files each file of the front end imports, by path from `web/src`."""
    imports: dict[str, set[str]] = {}
    for file in sorted(SOURCE.rglob("*.ts*")):
        named = [(file.parent / path).resolve() for path in FROM.findall(file.read_text())]
        found = [path.with_name(path.name + end) for path in named for end in ("", ".ts", ".tsx", ".d.ts")]
        imports[str(file.relative_to(SOURCE))] = {str(path.relative_to(SOURCE)) for path in found if path.is_file()}
    return imports


def test_no_circle_of_imports() -> None:
    imports = read_imports()
    assert sum(map(len, imports.values())) > len(imports), "the imports are found"
    graphlib.TopologicalSorter(imports).prepare()


def test_what_all_rooms_use_knows_no_room() -> None:
    out = [
        f"{file} imports {other}"
        for file, others in read_imports().items()
        for other in others
        if file.split("/")[0] in SHARED and other.split("/")[0] not in SHARED
    ]
    assert not out


def test_a_number_is_never_shown_as_a_power_of_ten() -> None:
    """`toPrecision` alone writes 1190 as 1.19e+3: it stands only inside `Number(…)`."""
    bare = re.compile(r"(?<!Number\()(?<![\w.])[\w.]+(?:\([^()]*\))*\.toPrecision\(")
    out = [
        f"{file.name}: {line.strip()}"
        for file in sorted(SOURCE.rglob("*.ts*"))
        for line in file.read_text().splitlines()
        if bare.search(line)
    ]
    assert not out
