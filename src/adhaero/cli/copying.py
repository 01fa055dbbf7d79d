"""Commands that copy the shop file and go back to a copy."""

from pathlib import Path
from typing import Annotated

import typer

from adhaero.cli.common import app
from adhaero.cli.running import shop_path
from adhaero.store.copies import copy_shop, hold, restore_shop
from adhaero.store.file import ShopFile, utc_now

ShopOption = Annotated[Path | None, typer.Option(help="The shop file.")]


@app.command("backup")
def backup_command(
    folder: Annotated[Path | None, typer.Argument(help="Where to; beside the shop file if not named.")] = None,
    shop: ShopOption = None,
) -> None:
    """Copy the shop, also while the application runs; the copy is one whole file."""
    path = shop or shop_path()
    hold(path)
    copy = copy_shop(ShopFile(path), folder)
    print(f"{copy}: {hold(copy).words()}")


@app.command("restore")
def restore_command(
    file: Annotated[Path, typer.Argument(help="A copy that was made with backup, or one of the daily ones.")],
    shop: ShopOption = None,
) -> None:
    """Go back to a copy of the shop; the present one is kept beside it. Stop the application first."""
    path = shop or shop_path()
    restored = restore_shop(path, file, utc_now())
    if restored.before is not None:
        print(f"before: {restored.before.words()}\n        kept as {restored.kept}")
    print(f"now:    {restored.now.words()}")
    print("\n".join(restored.list_differences()))
