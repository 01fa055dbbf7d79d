"""Commands that let a trial leave its shop whole, and bring one in."""

from pathlib import Path
from typing import Annotated

import typer

from adhaero.cli.common import app
from adhaero.cli.copying import ShopOption
from adhaero.cli.running import shop_path
from adhaero.core.errors import DataError, StorageError
from adhaero.store.copies import hold
from adhaero.store.file import open_shop


@app.command("export")
def export_command(
    file: Annotated[Path, typer.Argument(help="The data package to be written, e.g. heron.zip.")],
    trial: Annotated[int, typer.Option(help="The number of the trial, as its address shows it.")],
    licence: Annotated[str, typer.Option(help="What others may do with the data: CC0-1.0, CC-BY-4.0, …")] = "not said",
    shop: ShopOption = None,
) -> None:
    """Write a trial as a data package: every table, trace, file and change."""
    from adhaero.bench.bringing.package_out import Licence, export_package
    from adhaero.core.choice import read_choice

    path = shop or shop_path()
    hold(path)
    content = export_package(open_shop(path), trial, read_choice(Licence, licence, "licence"))
    try:
        with file.open("xb") as out:
            out.write(content)
    except FileExistsError:
        raise StorageError(f"{file} is there already.", do="Choose another name: nothing is written over.") from None
    except OSError as error:
        raise StorageError(f"{file} cannot be written: {error.strerror}.") from None
    print(f"{file}: trial {trial}, {len(content) / 1e6:.1f} MB")


@app.command("import")
def import_command(
    file: Annotated[Path, typer.Argument(help="A data package.")],
    shop: ShopOption = None,
) -> None:
    """Bring in a data package as a trial of its own, checked by file, row and column."""
    from adhaero.bench.bringing.package_in import take_package

    try:
        content = file.read_bytes()
    except OSError as error:
        raise DataError(f"{file} cannot be read: {error.strerror}.") from None
    taken = take_package(open_shop(shop or shop_path()), file.name, content)
    for one in taken.touched:
        print(f"{one} is not as it left its shop.")
    print(f"trial {taken.id}")
