"""Commands that run the application, the demo and the simulated rig.

The application is imported where it is run: it takes seconds, which a command that analyses a file need not wait.
"""

import asyncio
import gc
import os
import socket
import tempfile
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from adhaero.cli.common import app
from adhaero.core.errors import EntryError
from adhaero.rig.simulated import DIALECTS, serve_simulated
from adhaero.store.file import ShopFile, open_shop

if TYPE_CHECKING:
    from adhaero.api.door import Door

Port = Annotated[int, typer.Option(min=0, max=65534, help="The port of the page; 0 takes a free one.")]
Host = Annotated[str, typer.Option(help="The address to listen on; others than this machine must be named on purpose.")]


def shop_path() -> Path:
    """Return where the shop file lies: in `ADHAERO_HOME`, or the user's data folder."""
    home = os.environ.get("ADHAERO_HOME")
    return (Path(home) if home else Path.home() / ".local/share/adhaero") / "shop.sqlite"


@app.command("serve")
def serve_command(
    port: Port = 8700,
    host: Host = "127.0.0.1",
    shop: Annotated[Path | None, typer.Option(help="The shop file.")] = None,
) -> None:
    """Run the application on the shop file."""
    _serve(open_shop(shop or shop_path()), host, port)


@app.command("demo")
def demo_command(
    port: Port = 8700,
    host: Host = "127.0.0.1",
    if_free: Annotated[bool, typer.Option("--if-free", help="Do nothing when the port is taken.")] = False,
    seed: Annotated[int, typer.Option(help="The same seed gives the same demo.")] = 4124,
) -> None:
    """Run the application with the demo data, in a throw-away copy, with the practice rig beside it."""
    if if_free and _is_taken(host, port):
        return
    from adhaero.demo.build import build_demo
    from adhaero.rig.beside import start_practice_rig

    with tempfile.TemporaryDirectory(prefix="adhaero-demo-", ignore_cleanup_errors=True) as folder:
        rig_port = start_practice_rig(7801, 80.0, seed)
        print("building the demo: breaking 46 pieces on the simulated rig …", flush=True)
        file = build_demo(Path(folder) / "shop.sqlite", seed, rig_port)
        _serve(file, host, port)


@app.command("rig-sim")
def rig_sim_command(
    port: Annotated[int, typer.Option(min=0, max=65534, help="Lines on this port, commands on the next.")] = 7801,
    rate: Annotated[float, typer.Option(min=1, max=100, help="Lines a second.")] = 80.0,
    seed: Annotated[int, typer.Option(help="The same seed gives the same test.")] = 7,
    dialect: Annotated[str, typer.Option(help=f"How it speaks: {', '.join(DIALECTS)}.")] = "label",
) -> None:
    """Run the simulated rig."""
    if dialect not in DIALECTS:
        raise EntryError(f"“{dialect}” is not a dialect.", f"Choose one of {', '.join(DIALECTS)}.", field="dialect")
    try:
        asyncio.run(serve_simulated(port, rate, seed, dialect))
    except KeyboardInterrupt:
        pass
    except OSError as error:
        raise EntryError(
            f"Port {port} or {port + 1} cannot be used ({error.strerror}).", do="Name another --port."
        ) from None


def _is_taken(host: str, port: int) -> bool:
    with socket.socket() as probe:
        return probe.connect_ex((host, port)) == 0


def _open_door(file: ShopFile, host: str, port: int) -> "Door":
    """Let devices of the network in that know the pairing word, and say how they come in."""
    import segno

    from adhaero.api.door import LOCAL_HOSTS, Door, find_own_address, list_names
    from adhaero.api.pairing import Pairing

    address = find_own_address() if host in ("0.0.0.0", "::") else host
    pairing = Pairing(file.path.with_name(f"{file.path.name}.pairing"))
    url = f"http://{address}:{port}"
    print(f"Other devices: {url}/   pairing word: {pairing.word}", flush=True)
    print("What they send and read goes over the network in the clear: anyone who listens there can read it.")
    segno.make_qr(f"{url}/pair?word={pairing.word}").terminal(compact=True)
    return Door((*LOCAL_HOSTS, *list_names(), address), pairing, url)


def _serve(file: ShopFile, host: str, port: int) -> None:
    import uvicorn

    from adhaero.api.app import create_app
    from adhaero.api.door import LOCAL_HOSTS, Door

    if _is_taken(host, port):
        raise EntryError(f"Port {port} is in use.", do="Stop the other program, or name another --port.")
    door = Door() if host in LOCAL_HOSTS else _open_door(file, host, port)
    print(f"Adhaero: http://{'127.0.0.1' if door.pairing else host}:{port}/   (shop file: {file.path})", flush=True)
    application = create_app(file, door)
    # a trial of 2,000 pieces is many objects that stay, and a full sweep for cycles among them takes 100 ms
    gc.freeze()
    gc.set_threshold(50_000, 20, 20)
    uvicorn.run(application, host=host, port=port, log_level="warning", timeout_graceful_shutdown=2)
