"""docs/method as a page of the application: what every “how do we know” leads to."""

from functools import lru_cache
from itertools import pairwise
from pathlib import Path

from fastapi import APIRouter
from markdown_it import MarkdownIt
from starlette.exceptions import HTTPException
from starlette.responses import HTMLResponse, Response

_PACKAGE = Path(__file__).resolve().parents[1]
# beside the package in an installed copy, in docs of a checkout
_PLACES = (_PACKAGE / "method/README.md", _PACKAGE.parents[1] / "docs/method/README.md")
_STYLE = """
body { font-family: "Atkinson Hyperlegible Next", sans-serif; color: #16201d; max-width: 52rem; margin: 2rem auto; }
body { padding: 0 1rem; line-height: 1.5 }
table { border-collapse: collapse }
td, th { border-bottom: 1px solid #c9d0cc; padding: 0.3rem 0.8rem; text-align: left }
"""

router = APIRouter(tags=["method"])


def anchor_of(heading: str) -> str:
    """Return the address of a heading within the page: its words in small letters, joined by hyphens.

    Examples
    --------
    >>> anchor_of("What is left: a condition")
    'what-is-left-a-condition'
    """
    return "-".join("".join(c if c.isalnum() else " " for c in heading.lower()).split())


@lru_cache(maxsize=1)
def _render() -> str | None:
    place = next((one for one in _PLACES if one.is_file()), None)
    if place is None:
        return None
    reader = MarkdownIt("commonmark").enable("table")
    tokens = reader.parse(place.read_text(encoding="utf-8"))
    for token, inside in pairwise(tokens):
        if token.type == "heading_open":
            token.attrSet("id", anchor_of(inside.content))
    body = reader.renderer.render(tokens, reader.options, {})
    return (
        f'<!doctype html><html lang="en"><head><meta charset="utf-8"><title>How the numbers are made</title>'
        f"<style>{_STYLE}</style></head><body>{body}</body></html>"
    )


@router.get("/method", include_in_schema=False)
def show_method() -> Response:
    """Return the page."""
    page = _render()
    if page is None:
        raise HTTPException(404, "The pages on the method are not installed.")
    return HTMLResponse(page)
