"""The method sheet: all that another shop needs to make the same test, so that results can stand in one table."""

from collections import Counter

from adhaero import __version__
from adhaero.bench.compare.advice import advise
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.report import list_constant
from adhaero.bench.compare.view import CompareView, view_compare
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.shop.supplies import Supplies, read_supplies
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.fixture import UNSAID
from adhaero.core.glue import FIGURES
from adhaero.core.stats.words import and_join
from adhaero.files.report.page import Report, ReportTable, Section
from adhaero.store.file import ShopFile
from adhaero.store.glues import list_glue_figures, list_glues

_GIVE_BACK = (
    ("specimen", "the label on the piece; it stands once"),
    ("the set", "as it is called here, in a column named like what varies"),
    ("board, species", "which board it came from, and its wood"),
    ("load_N", "the highest load with the zero taken off, N"),
    ("outcome", "broke, held (at least this much), step (between two hung weights), fell_apart"),
    ("wood_failure_pct", "how much of the broken face is torn wood, 0 to 100"),
    ("the sizes", "as measured on each piece, mm"),
    ("excluded, note", "why a piece does not count, decided before its number is looked at; what was seen"),
    ("broken_at, rig, resolution_N", "when and on what, and the smallest step of its reading"),
)


def export_method_sheet(file: ShopFile, trial_id: int) -> Report:
    """Return how to make the test of a trial again, and what its breaks advise so far."""
    view = view_compare(file, trial_id, Choice())
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        supplies = read_supplies(connection)
        figures = list_glue_figures(connection)
        said_of = {
            glue.name.lower(): {name: row.typed for name, row in figures.get(glue.id, {}).items()}
            for glue in list_glues(connection)
        }
    form = FIXTURES[facts.fixture]
    known = facts.fixture not in UNSAID
    sections = [
        Section("varied", "What is varied", listed=_list_varied(facts)),
        Section("same", "What is the same for all pieces", listed=list_constant(facts)),
        Section("labels", "What the labels of the glues say", tables=_tabulate_labels(facts, said_of)),
        Section("wood", "Wood, and how the pieces are dealt", _say_wood(facts)),
        Section(
            "making",
            "Making",
            _say_making(facts),
            [f"{'Before' if one.turn == 'before' else 'After'} gluing: {one.words}" for one in facts.steps],
        ),
        Section(
            "breaking",
            "Breaking",
            [f"{form.name[:1].upper()}{form.name[1:]}. {form.sits}", form.formula] if known else
            ["How the pieces were loaded is not known: they were brought in as loads."],
            [*form.checks(), "Load steadily, and write down the highest load with the zero taken off.",
             "Then look at the broken face: torn wood in quarters, before the number is compared with anything."],
        ),
        Section("back", "What to write down", ["One row a piece, as a CSV with these columns, can stand in one table "
                "with the pieces of this trial:"],
                tables=[ReportTable(["column", "what it is"], [list(one) for one in _GIVE_BACK])]),
        Section("advice", "What the breaks advise so far", _say_advice(facts, view, supplies)),
        Section("care", "With care", listed=[
            "Wood breaks without warning and throws splinters: glasses, a guard, and nobody in line with the piece.",
            "Presses, saws, glues and hardeners: by their makers' instructions, local codes and licensed practice.",
        ]),
    ]  # fmt: skip
    return Report(
        facts.trial.question,
        f"How to make this test again.{' Its breaks so far are practice.' if facts.trial.practice else ''}",
        [],
        sections,
        f"Made with Adhaero {__version__}.",
    )


def _list_varied(facts: PieceFacts) -> list[str]:
    said = []
    for factor in facts.factors.values():
        values = [one.name for one in facts.levels.values() if one.factor_id == factor.id]
        if values:
            said.append(f"{facts.words_of(factor)}: {and_join(values)}")
    counts = Counter(piece.treatment_id for piece in facts.pieces.values() if piece.void_reason is None)
    for one in facts.made:
        recipe = f"; {one.recipe}" if one.recipe else ""
        said.append(
            f"{one.name}: {counts[one.id] or one.pieces} pieces{' without a joint' if one.solid else ''}{recipe}"
        )
    return said


def _tabulate_labels(facts: PieceFacts, said_of: dict[str, dict[str, str]]) -> list[ReportTable]:
    glues = dict.fromkeys(facts.glue_of(one) for one in facts.made if facts.glue_of(one))
    families = {one.glue: one.glue_family for one in facts.batches.values()}
    names = [
        name for name in FIGURES
        if name not in ("price", "left_g", "pack_g", "pack_ml")
        and any(said_of.get(glue.lower(), {}).get(name) for glue in glues)
    ]  # fmt: skip
    if not names:
        return []
    rows = [
        [glue, families.get(glue, ""), *(said_of.get(glue.lower(), {}).get(name, "–") for name in names)]
        for glue in glues
    ]
    return [ReportTable(["glue", "family", *(FIGURES[name].words for name in names)], rows)]


def _say_wood(facts: PieceFacts) -> list[str]:
    boards, pieces = len(facts.boards), len(facts.pieces)
    woods = dict.fromkeys(one.species for one in facts.boards.values() if one.species)
    said = [f"{pieces} pieces from {boards} {'board' if boards == 1 else 'boards'}"
            f"{' of ' + and_join(list(woods)) if woods else ''}."]  # fmt: skip
    if boards > 1:
        said.append("Each set takes pieces from every board as evenly as it goes: boards differ more than glues do.")
    said.append(
        "Which piece goes to which set, the order of gluing and the order of breaking are dealt by chance, not chosen."
    )
    return said


def _say_making(facts: PieceFacts) -> list[str]:
    said = ["Note for each glue-up: the glue with its age, the air, when each piece was spread, closed and clamped."]
    if "clamp_time_s" not in facts.set_by_sets and (row := facts.quantities.get("clamp_time_s")):
        said.append(f"In clamps: {row.typed}.")
    if "cure_time_s" not in facts.set_by_sets and (row := facts.quantities.get("cure_time_s")):
        said.append(f"From closing to breaking: {row.typed}.")
    return said


def _say_advice(facts: PieceFacts, view: CompareView, supplies: Supplies) -> list[str]:
    by_name = {one.name.lower(): one for one in supplies.glues}
    price_of = {}
    for one in facts.made:
        card = by_name.get(facts.glue_of(one).lower())
        grams = card.pack_mass_g if card is not None else None
        if card is not None and card.price is not None and grams:
            price_of[one.id] = card.price / grams
    found = advise(facts, view, price_of)
    if found:
        return [*found, "That is what these pieces carry, made as written here; for other joints it is a guess."]
    return ["Nothing yet that the numbers would carry."] if view.dots else []
