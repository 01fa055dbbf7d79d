"""Writes NOTICE: what is shipped with Adhaero or installed for it to run, by whom, under which licence.

Run by `make notice` after a change of dependencies: it reads what is installed, so that nothing is copied by hand.
"""

import json
import re
from importlib.metadata import Distribution, distribution
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
MODULES = ROOT / "web" / "node_modules"
NAMES = re.compile(r"^(licen[sc]e|copying|notice|ofl)", re.IGNORECASE)
RULE = "-" * 100


def list_bundled() -> list[Path]:
    """Return the folders of the fonts and scripts that are bundled into the front end."""
    lock = json.loads((ROOT / "web" / "package-lock.json").read_text(encoding="utf-8"))
    return [
        ROOT / "web" / place
        for place, package in sorted(lock["packages"].items())
        if place and not package.get("dev") and not package.get("peer") and (ROOT / "web" / place).is_dir()
    ]


def tell_bundled(folder: Path) -> str:
    """Return name, version and licence of a bundled package, with the text of its licence."""
    package = json.loads((folder / "package.json").read_text(encoding="utf-8"))
    texts = [
        one.read_text(encoding="utf-8", errors="replace") for one in sorted(folder.iterdir()) if NAMES.match(one.name)
    ]
    return tell(package["name"], package["version"], str(package.get("license", "")), texts)


def list_installed() -> list[Distribution]:
    """Return the packages that the application needs to run."""
    lines = (ROOT / "requirements.txt").read_text(encoding="utf-8").splitlines()
    names = [re.split(r"==", line)[0].strip() for line in lines if re.match(r"[A-Za-z0-9]", line)]
    return [distribution(name) for name in names]


def tell_installed(found: Distribution) -> str:
    """Return name, version and licence of an installed package; the text of its licence is installed with it."""
    data = found.metadata
    classified = [one.rpartition(":: ")[2] for one in data.get_all("Classifier") or [] if one.startswith("License ::")]
    licence = data.get("License-Expression") or ", ".join(classified) or (data.get("License") or "").splitlines()[:1]
    return tell(data["Name"], data["Version"], licence if isinstance(licence, str) else "".join(licence), [])


def tell(name: str, version: str, licence: str, texts: list[str]) -> str:
    """Return one entry."""
    body = "\n\n".join(text.strip() for text in texts)
    return f"{RULE}\n{name} {version}: {licence or 'see below'}\n\n{body}\n"


if __name__ == "__main__":
    parts = ["Adhaero is made of other people's work as well.\n", "Shipped in the front end: fonts and scripts\n"]
    parts += [tell_bundled(folder) for folder in list_bundled()]
    parts += ["Installed beside it: Python packages\n", *(tell_installed(one) for one in list_installed())]
    (ROOT / "NOTICE").write_text("\n".join(parts), encoding="utf-8")
