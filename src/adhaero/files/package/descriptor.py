"""What a data package says of itself: its tables with their columns, types and keys, as a Table Schema each."""

import json
from collections.abc import Mapping, Sequence
from typing import Any, Final

from adhaero.core.whole import Column, Shape

FORMAT: Final = 1
DESCRIPTOR: Final = "datapackage.json"
_MOMENT: Final = r"\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d+)?Z"


def describe_table(shape: Shape, names: Sequence[str]) -> dict[str, Any]:
    """Return the descriptor of a table; `names` are the tables that there are, for what its columns point to."""
    schema: dict[str, Any] = {
        "fields": [_describe_column(one) for one in shape.columns],
        "missingValues": [""],
    }
    if any(one.name == "id" for one in shape.columns):
        schema["primaryKey"] = ["id"]
    pointing = [one for one in shape.columns if one.to in names]
    if pointing:
        schema["foreignKeys"] = [
            {"fields": [one.name], "reference": {"resource": "" if one.to == shape.name else one.to, "fields": ["id"]}}
            for one in pointing
        ]
    return {
        "name": shape.name,
        "type": "table",
        "path": f"{shape.name}.csv",
        "description": shape.words,
        "encoding": "utf-8",
        "schema": schema,
    }


def _describe_column(column: Column) -> dict[str, Any]:
    constraints: dict[str, Any] = {}
    if column.required:
        constraints["required"] = True
    if column.choices is not None:
        constraints["enum"] = list(column.choices)
    least, most = ("minLength", "maxLength") if column.kind == "string" else ("minimum", "maximum")
    for name, value in ((least, column.least), (most, column.most)):
        if value is not None and column.kind in ("integer", "number", "string"):
            constraints[name] = value if column.kind == "number" else int(value)
    if column.kind == "string" and column.name.endswith("_utc"):
        constraints["pattern"] = _MOMENT
    field: dict[str, Any] = {"name": column.name, "type": column.kind}
    return field | ({"constraints": constraints} if constraints else {})


def describe_package(
    shapes: Sequence[Shape], name: str, said: Mapping[str, Any], hashes: Mapping[str, str], written: str
) -> str:
    """Return `datapackage.json`: its tables, and what it says of itself (title, licences, creation)."""
    names = [one.name for one in shapes] + ["trial"]
    resources = [
        describe_table(one, names) | {"hash": f"sha256:{hashes[f'{one.name}.csv']}"}
        for one in shapes
        if f"{one.name}.csv" in hashes
    ]
    document = {"profile": "data-package", "name": name, "created": written, **said, "adhaero": {"format": FORMAT}}
    return json.dumps(document | {"resources": resources}, ensure_ascii=False, indent=1)
