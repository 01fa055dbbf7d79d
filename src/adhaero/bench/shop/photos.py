"""Photos of boards."""

from adhaero.bench.shop.boards import require_stock_board
from adhaero.core.errors import NotThere
from adhaero.files.photos import shrink_photo
from adhaero.store.file import ShopFile
from adhaero.store.photos import fetch_photo, insert_photo
from adhaero.store.stock_boards import amend_stock_board


def add_photo(file: ShopFile, board_id: int, content: bytes) -> int:
    """Put a photo beside a board, scaled to a size that shows grain and defects; return its id.

    Raises
    ------
    EntryError : it is no picture that can be read, or too large.
    """
    jpeg = shrink_photo(content)
    with file.changing("Added a photo of a board") as connection:
        require_stock_board(connection, board_id)
        photo_id = insert_photo(connection, jpeg=jpeg, added_utc=file.now())
        amend_stock_board(connection, board_id, photo_id=photo_id)
        return photo_id


def read_photo(file: ShopFile, photo_id: int) -> bytes:
    """Return a photo as JPEG; raises `NotThere`."""
    with file.reading() as connection:
        jpeg = fetch_photo(connection, photo_id)
    if jpeg is None:
        raise NotThere(f"There is no photo {photo_id}.")
    return jpeg
