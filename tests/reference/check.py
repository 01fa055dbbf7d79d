#!/usr/bin/env python3
"""Run every case of this folder and compare the numbers.

    python3 check.py [--folder DIR] [--only TEXT] COMMAND...     e.g.  python3 check.py .venv/bin/adhaero

COMMAND is the start of the command line; each case adds its own arguments and --json and runs in the
folder of the cases. One line for every mismatch; exit 0 only when everything agrees. Standard library only.

A path is made of keys joined by dots; [2] takes an item of a list, [level=Wren] or [a=Wren,b=Heron] the one
item whose keys have these values (quotes around a value that holds a comma or a bracket), and # the length.
A number agrees within max(relative * |expected|, absolute); `overrides` name other tolerances by path, with *
for any text, the last match counts. Text, true/false and null must be equal.
"""

from __future__ import annotations

import json
import math
import re
import shutil
import subprocess
import sys
from pathlib import Path

TIME_LIMIT = 300
STEP = re.compile(r'\.?(?:(?P<length>#)$|\[(?P<inside>(?:"[^"]*"|[^\]"])*)\]|(?P<key>[^.\[\]#]+))')
PAIR = re.compile(r'\s*(?P<key>[^=,]+)=(?:"(?P<quoted>[^"]*)"|(?P<plain>[^,]*))(?:,|$)')


class NotThere(Exception):
    pass


def same_label(got, want: str) -> bool:
    if isinstance(got, str):
        return got == want
    if isinstance(got, (int, float)) and not isinstance(got, bool):
        try:
            return float(want) == got
        except ValueError:
            return False
    return False


def resolve(doc, path: str):
    at = 0
    while at < len(path):
        m = STEP.match(path, at)
        if not m:
            raise NotThere(f"cannot read the path at {path[at:]!r}")
        here = path[: m.end()]
        if m["length"]:
            if not isinstance(doc, list):
                raise NotThere(f"{path[:at] or 'the result'} is not a list")
            doc = len(doc)
        elif m["key"] is not None:
            if not isinstance(doc, dict) or m["key"] not in doc:
                raise NotThere(f"{here} is not there")
            doc = doc[m["key"]]
        else:
            inside = m["inside"]
            if not isinstance(doc, list):
                raise NotThere(f"{path[:at]} is not a list")
            if inside.isdigit():
                if int(inside) >= len(doc):
                    raise NotThere(f"{here} is not there (length {len(doc)})")
                doc = doc[int(inside)]
            else:
                wanted = [
                    (p["key"].strip(), p["quoted"] if p["quoted"] is not None else p["plain"])
                    for p in PAIR.finditer(inside)
                ]
                found = [
                    item
                    for item in doc
                    if isinstance(item, dict) and all(same_label(item.get(k), v) for k, v in wanted)
                ]
                if len(found) != 1:
                    raise NotThere(f"{here} fits {len(found)} items")
                doc = found[0]
        at = m.end()
    return doc


def tolerance_for(path: str, tolerance: dict) -> tuple[float, float]:
    relative = float(tolerance.get("relative", 1e-6))
    absolute = float(tolerance.get("absolute", 1e-9))
    for pattern, value in tolerance.get("overrides", {}).items():
        if re.fullmatch(re.escape(pattern).replace(r"\*", ".*"), path):
            if isinstance(value, dict):
                relative = float(value.get("relative", relative))
                absolute = float(value.get("absolute", absolute))
            else:
                relative = float(value)
    return relative, absolute


def difference(got, want, path: str, tolerance: dict) -> str | None:
    """None when they agree, else what is wrong."""
    if want is None or isinstance(want, (bool, str)):
        if type(got) is type(want) and got == want:
            return None
        return f"expected {json.dumps(want, ensure_ascii=False)}, got {short(got)}"
    if isinstance(want, (int, float)):
        if isinstance(got, bool) or not isinstance(got, (int, float)) or not math.isfinite(got):
            return f"expected {want!r}, got {short(got)}"
        relative, absolute = tolerance_for(path, tolerance)
        off = abs(got - want)
        if off <= max(relative * abs(want), absolute):
            return None
        part = f"{off / abs(want):.2e} relative" if want else f"{off:.2e}"
        return f"expected {want!r}, got {got!r} ({part}; allowed {relative:g} relative or {absolute:g})"
    return None if got == want else f"expected {short(want)}, got {short(got)}"


def short(value) -> str:
    text = json.dumps(value, ensure_ascii=False, default=str)
    return text if len(text) <= 80 else text[:77] + "..."


def run(prefix: list[str], command: list[str], folder: Path):
    argv = [*prefix, *command] + ([] if "--json" in command else ["--json"])
    try:
        done = subprocess.run(argv, cwd=folder, stdin=subprocess.DEVNULL, capture_output=True, timeout=TIME_LIMIT)
    except (OSError, subprocess.TimeoutExpired) as error:
        return None, str(error)
    said = done.stderr.decode("utf-8", "replace").strip()
    if done.returncode != 0:
        return None, f"exit {done.returncode}: {said.splitlines()[-1] if said else 'nothing on stderr'}"
    try:
        return json.loads(done.stdout.decode("utf-8")), None
    except ValueError as error:
        return None, f"the output is not JSON: {error}"


def main(argv: list[str]) -> int:
    folder, only = Path(__file__).resolve().parent, ""
    while argv and argv[0] in ("--folder", "--only") and len(argv) > 1:
        if argv[0] == "--folder":
            folder = Path(argv[1]).resolve()
        else:
            only = argv[1]
        argv = argv[2:]
    if not argv or argv[0].startswith("-"):
        print(__doc__, file=sys.stderr)
        return 2
    # the command runs in another directory: make the parts that are files absolute
    prefix = [str(Path(part).absolute()) if Path(part).is_file() else part for part in argv]
    if shutil.which(prefix[0]) is None:
        print(f"no such command: {argv[0]}", file=sys.stderr)
        return 2
    cases = [p for p in sorted(folder.glob("*.expected.json")) if only in p.name]
    if not cases:
        print(f"no cases in {folder}", file=sys.stderr)
        return 2
    quantities = agree = full = 0
    for file in cases:
        name = file.name.removesuffix(".expected.json")
        case = json.loads(file.read_text(encoding="utf-8"))
        expect, tolerance = case["expect"], case.get("tolerance", {})
        quantities += len(expect)
        doc, trouble = run(prefix, case["command"], folder)
        if trouble is not None:
            print(f"{name}: no result for {len(expect)} quantities: {trouble}")
            continue
        good = 0
        for path, want in expect.items():
            try:
                wrong = difference(resolve(doc, path), want, path, tolerance)
            except NotThere as error:
                wrong = str(error)
            if wrong is None:
                good += 1
            else:
                print(f"{name}: {path}: {wrong}")
        agree += good
        full += good == len(expect)
    print(f"{agree} of {quantities} quantities agree, {full} of {len(cases)} cases fully agree")
    return 0 if agree == quantities else 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
