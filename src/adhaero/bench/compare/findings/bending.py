"""The usable limit beside the peak: from where on some of the bend stays, how stiff, what work, what stayed."""

from statistics import median

from adhaero.bench.compare.findings.asked import Asked, Finding, Row
from adhaero.bench.compare.how_known import How
from adhaero.core.quantity import Kind
from adhaero.core.response import FORMS, Response
from adhaero.core.stats.words import list_some
from adhaero.core.units import DisplayUnit, Units, display_unit, response_unit
from adhaero.store.pulls import Pull


def find_bending(asked: Asked, units: Units) -> Finding | None:
    """Return what the displacements say set by set; None where none was recorded."""
    facts = asked.facts
    pulls: dict[str, list[Pull]] = {}
    stayed: dict[str, list[float | None]] = {}
    for piece, one in zip(asked.breaks.pieces, asked.breaks.specimens, strict=True):
        pull = facts.result_of(piece)
        if pull is not None and pull.stiffness_n_per_mm is not None and one.excluded is None:
            pulls.setdefault(one.level, []).append(pull)
            stayed.setdefault(one.level, []).extend(tried.stayed_bent_mm for tried in facts.pulls[piece.id])
    if not pulls:
        return None
    force, stiff, work = (response_unit(kind, units) for kind in ("load", "stiffness", "work"))
    length = display_unit(Kind.LENGTH, units.length)
    rows: list[Row] = []
    said = []
    for level, mine in pulls.items():
        shares = [pull.bend_starts_n / pull.load_n for pull in mine if pull.bend_starts_n is not None and pull.load_n]
        straight = len(mine) - len(shares)
        if straight:
            said.append(f"{level}: {straight} of {len(mine)} broke before its bend began to stay.")
        rows.append(
            [
                level,
                str(len(mine)),
                _middle([pull.load_n for pull in mine], force),
                _middle([pull.bend_starts_n for pull in mine], force),
                f"{100 * median(shares):.0f} %" if shares else "–",
                _middle([pull.bend_by_span_n for pull in mine], force),
                _middle([pull.stiffness_n_per_mm for pull in mine], stiff),
                _middle([pull.energy_j for pull in mine], work),
                _middle(stayed[level], length),
            ]
        )
    told = {at for at in range(len(_COLUMNS)) if any(row[at] != "–" for row in rows)}
    return Finding(
        "bending",
        "The usable limit beside the peak",
        [list_some(said, " ")] if said else [],
        How(
            FORMS[Response.USABLE].says,
            "of its peak = start of the bend that stays / peak, piece by piece; by span: 0.2 % of it off the line",
            "the middle of the pieces whose displacement was recorded; stayed is of loadings that did not break it",
            "usable-limit-and-stiffness",
        ),
        [name for at, name in enumerate(_COLUMNS) if at in told],
        [[cell for at, cell in enumerate(row) if at in told] for row in rows],
    )


_COLUMNS = ("set", "pieces", "peak", "stays bent from", "of its peak", "by span", "stiffness", "work", "stayed")


def _middle(values: list[float | None], unit: DisplayUnit) -> str:
    known = [value for value in values if value is not None]
    return f"{median(known) * unit.per_si:.3g} {unit.symbol}" if known else "–"
