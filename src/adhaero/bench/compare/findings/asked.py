"""What every finding is, and what the findings are made from."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from adhaero.bench.compare.breaks import Breaks, find_controls
from adhaero.bench.compare.how_known import How
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.core.errors import DataError
from adhaero.core.plan.fields import Factor
from adhaero.core.stats.analyse import Analysis, analyse
from adhaero.core.stats.breaks import Specimen
from adhaero.core.stats.factors import Factors, analyse_factors
from adhaero.core.stats.table import Table, make_table

Row = list[str | float | None]


@dataclass(frozen=True)
class Finding:
    """One answer beside the verdict.

    Attributes
    ----------
    key, title : what it is; said : in sentences.
    columns, rows : a table, empty where there is none; a number is a strength in the core's unit, None is not known.
    """

    key: str
    title: str
    said: list[str]
    how: How
    columns: list[str]
    rows: list[Row]


class Asked:
    """What the findings are made from."""

    def __init__(self, facts: PieceFacts, breaks: Breaks, analysis: Analysis) -> None:
        self.facts, self.breaks, self.analysis = facts, breaks, analysis
        self.question = breaks.question
        self.margin = self.question.margin_pct
        self.controls = find_controls(facts, analysis)
        self.solid = {one.name for one in facts.made if one.solid}
        self.pieces = {one.label: one for one in breaks.pieces}
        self.every = analysis if self.question.control is None else self.ask(control=None)
        condition = next((row for row in facts.factors.values() if facts.kinds[row.id] is Factor.CONDITION), None)
        self.condition = None if condition is None else facts.words_of(condition)
        self.conditions = (
            list(
                dict.fromkeys(
                    one.factors[self.condition] for one in breaks.compared if one.factors.get(self.condition or "")
                )
            )
            if self.condition
            else []
        )

    def ask(self, **changes: object) -> Analysis | None:
        """Return the analysis with parts of the question changed; None where that cannot be."""
        try:
            return analyse(self.breaks.compared, replace(self.question, **changes))  # type: ignore[arg-type]
        except DataError:
            return None

    def joined(self) -> tuple[Specimen, ...]:
        """Return the specimens of the sets that are glued."""
        return tuple(one for one in self.breaks.compared if one.level not in self.solid)

    def table(self, specimens: Sequence[Specimen], block: str | None) -> Table | None:
        """Return some of the specimens as a table; None where they make none."""
        try:
            return make_table(specimens, self.question.estimate, self.question.wood_failure_from, block)
        except DataError:
            return None

    def varied_names(self) -> tuple[str, ...]:
        """Return what varies, in words; something without values does not."""
        with_values = {one.factor_id for one in self.facts.levels.values()}
        return tuple(self.facts.words_of(row) for row in self.facts.factors.values() if row.id in with_values)

    def made_of(self) -> tuple[Specimen, ...]:
        """Return the specimens that have a value of everything that varies."""
        names = self.varied_names()
        return tuple(one for one in self.joined() if tuple(one.factors) == names)

    def factors(self) -> Factors | None:
        """Return what each factor does, where two or three are varied and can be told apart."""
        if len(self.varied_names()) < 2:
            return None
        for block in dict.fromkeys((self.question.block, None)):
            table = self.table(self.made_of(), block)
            try:
                return None if table is None else analyse_factors(table, self.margin)
            except DataError:
                continue
        return None
