"""Made-up sheets: sets of pieces with their summaries, as a spreadsheet would hold them, and slips put in."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from random import Random
from statistics import mean, median, pstdev, stdev

from adhaero.core.tables.grid import Book, Cell, Place, Sheet, name_place

BIRDS = (
    "Avocet",
    "Bittern",
    "Curlew",
    "Dunlin",
    "Egret",
    "Fulmar",
    "Gannet",
    "Heron",
    "Kestrel",
    "Linnet",
    "Osprey",
    "Siskin",
)
COMPUTED: dict[str, tuple[str, Callable[[Sequence[float]], float]]] = {
    "Average": ("AVERAGE({})", mean),
    "SD": ("STDEV({})", stdev),
    "Min": ("MIN({})", min),
    "Max": ("MAX({})", max),
    "Median": ("MEDIAN({})", median),
    "n": ("COUNT({})", len),
    "Total": ("SUM({})", sum),
    "Range": ("MAX({0})-MIN({0})", lambda values: max(values) - min(values)),
}


@dataclass
class Made:
    """A sheet that is being made: its cells, and the slips that were put in, by place."""

    cells: dict[Place, Cell] = field(default_factory=dict)
    slips: dict[Place, str] = field(default_factory=dict)

    def book(self, name: str = "Bench", *, is_text: bool = False) -> Book:
        return Book((Sheet("" if is_text else name, self.cells),), is_text=is_text)


def make_wide(
    random: Random,
    sets: int = 6,
    pieces: int = 6,
    summaries: Sequence[str] = ("Average", "SD", "Min", "Max"),
    *,
    formulas: bool = True,
    top: int = 0,
    left: int = 0,
    decimals: int = 1,
    title: str = "Shaft scarfs, loads in lb",
    place: float = 300.0,
) -> tuple[Made, dict[Place, list[float]]]:
    """Return a set a row, its pieces across and summaries behind; and the numbers of each row by its first piece."""
    made = Made()
    made.cells[top, left] = Cell(title)
    header = top + 2
    made.cells[header, left] = Cell("Glue")
    for at in range(pieces):
        made.cells[header, left + 1 + at] = Cell("ABCDEFGHIJ"[at])
    for at, name in enumerate(summaries):
        made.cells[header, left + 1 + pieces + at] = Cell(name)
    numbers: dict[Place, list[float]] = {}
    for row, bird in enumerate(random.sample(BIRDS, sets), header + 1):
        made.cells[row, left] = Cell(bird)
        values = [float(round(random.gauss(place, place / 8), 0 if place > 100 else 1)) for _ in range(pieces)]
        numbers[row, left + 1] = values
        for at, value in enumerate(values):
            made.cells[row, left + 1 + at] = Cell(value)
        for at, name in enumerate(summaries):
            put_summary(
                made, (row, left + 1 + pieces + at), name, values, (row, left + 1), formulas=formulas, decimals=decimals
            )
    return made, numbers


def put_summary(
    made: Made, at: Place, name: str, values: Sequence[float], first: Place, *, formulas: bool, decimals: int = 1
) -> None:
    formula, compute = COMPUTED[name]
    exact = float(compute(values))
    if formulas:
        span = f"{name_place(first)}:{name_place((first[0], first[1] + len(values) - 1))}"
        made.cells[at] = Cell(exact, formula.format(span))
    else:
        made.cells[at] = Cell(round(exact, decimals))


def population_sd(values: Sequence[float]) -> float:
    return pstdev(values)
