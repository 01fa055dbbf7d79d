"""The figures on a glue's card: open time, clamp time, spread, price, as typed."""

from collections.abc import Mapping
from dataclasses import dataclass

from adhaero.bench.facts.requirements import require_unchanged
from adhaero.bench.shop.units import read_units
from adhaero.core.errors import EntryError, NotThere
from adhaero.core.glue import FIGURES, USUAL, GlueFamily
from adhaero.core.quantity import parse_quantity, show_as_typed
from adhaero.core.units import Units
from adhaero.store.file import ShopFile
from adhaero.store.glues import Glue, GlueFigure, delete_glue_figures, fetch_glue, list_glue_figures, put_glue_figure


@dataclass(frozen=True)
class FigureView:
    """One figure of a glue's card: as typed, and what is usual with its family where nothing is typed."""

    name: str
    words: str
    typed: str
    usual: str


def view_figures(glue: Glue, figures: Mapping[str, GlueFigure], units: Units) -> list[FigureView]:
    """Return the figures of a glue as typed, with what is usual beside them."""
    usual = USUAL[GlueFamily(glue.family)]
    return [
        FigureView(
            name,
            figure.words,
            figures[name].typed if name in figures else "",
            show_as_typed(usual[name], figure.kind, units.default_for(figure.kind)) if name in usual else "",
        )
        for name, figure in FIGURES.items()
    ]


def edit_figure(file: ShopFile, glue_id: int, name: str, was: str, typed: str) -> None:
    """Set one figure of a glue's card, or clear it so that what is usual stands.

    Raises
    ------
    StaleEdit : another window changed it; EntryError : it cannot be read.
    """
    with file.changing("Changed a glue") as connection:
        glue = fetch_glue(connection, glue_id)
        if glue is None:
            raise NotThere(f"There is no glue {glue_id}.", do="It may have been removed.")
        if name not in FIGURES:
            raise EntryError(f"A glue has no “{name}”.", f"Known are {', '.join(FIGURES)}.", field=name)
        figure = FIGURES[name]
        current = list_glue_figures(connection).get(glue_id, {}).get(name)
        require_unchanged(f"the {figure.words} of {glue.name}", current.typed if current else "", was, name)
        if not typed.strip():
            delete_glue_figures(connection, glue_id, name)
            return
        unit = read_units(connection).default_for(figure.kind, figure.unit)
        value = parse_quantity(typed, figure.kind, unit, figure.bounds, field=name)
        put_glue_figure(connection, glue_id, name, value.si, value.typed)
