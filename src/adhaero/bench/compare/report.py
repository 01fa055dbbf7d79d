"""A trial as a report that needs no program to read: the answer, then what it stands on, at last every break."""

from collections import Counter
from collections.abc import Sequence

from adhaero import __version__
from adhaero.bench.breaking.corrections import say_field
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.dots import Dot
from adhaero.bench.compare.pairs import PairWords
from adhaero.bench.compare.result_units import read_result_units
from adhaero.bench.compare.view import CompareView, view_compare
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.shop.rig_truth import view_truth
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.fixture import UNSAID
from adhaero.core.joint import FORMS as JOINTS
from adhaero.core.plan.exposures import EXPOSURES
from adhaero.core.plan.fields import QUANTITIES, needed_sizes
from adhaero.core.pulls import FAILED_IN_WORDS
from adhaero.core.quantity import Kind, show
from adhaero.core.stats.breaks import Outcome
from adhaero.core.stats.pairs import Verdict
from adhaero.core.stats.words import and_join
from adhaero.core.units import DisplayUnit, Units, display_unit, response_unit
from adhaero.files.report.figure import FigureDot, FigureSet, draw_sets
from adhaero.files.report.page import Report, ReportTable, Section, draw_photo, write_report
from adhaero.store.file import ShopFile
from adhaero.store.photos import fetch_photo
from adhaero.store.pieces import Batch
from adhaero.store.sources import list_sources

_MOST_PAIRS = 45
_MOST_SAID = 8
_MOST_PHOTOS = 24


def export_report(file: ShopFile, trial_id: int, choice: Choice) -> str:
    """Return the report of a trial as one HTML file, in the shop's units."""
    view = view_compare(file, trial_id, choice)
    with file.reading() as connection:
        facts = read_trial(connection, trial_id)
        units = read_result_units(connection, facts, choice)
        sources = list_sources(connection, trial_id)
        photos = [
            draw_photo(f"Glue-up {one.number}", content)
            for one in list(facts.batches.values())[:_MOST_PHOTOS]
            if one.photo_id is not None and (content := fetch_photo(connection, one.photo_id)) is not None
        ]
        broken_faces = [
            draw_photo(f"{one.label}, {one.treatment}", content)
            for one in [one for one in view.dots if one.photo_id is not None][:_MOST_PHOTOS]
            if (content := fetch_photo(connection, one.photo_id or 0)) is not None
        ]
    unit = response_unit(view.kind, units)
    sections = [
        Section("shown", "What the pieces show", _say_shown(view), [pair.words for pair in _list_clear(view)]),
        Section("open", "What they do not show", _say_open(view), view.mind),
        Section(
            "pieces",
            f"{view.kind_words}, every piece",
            [view.judged_words],
            figures=draw_sets(_list_figures(view, unit), unit.symbol),
            tables=[_tabulate_sets(view, unit)] if view.groups else [],
            note="A dot is a piece; a brown square tore half or more in the wood; an arrow to the right held at least "
            "that much, one to the left fell apart; a bar broke between two weights; a cross is set aside. The bar "
            "under a row is the likely range of the typical one.",
        ),
        Section("pairs", "Pair by pair", _say_pairs(view), tables=[_tabulate_pairs(view)] if view.pairs else []),
        Section("asked", "What was asked, and held the same", _say_asked(facts), list_constant(facts)),
        Section("made", "How the pieces were made", _say_made(facts, [one.name for one in sources]),
                figures=photos, tables=_tabulate_glue_ups(facts, units)),
        Section("broken", "How they were broken", _say_broken(facts), _list_rigs(file, facts, units),
                figures=broken_faces),
        Section("aside", "Set aside, and not counted", listed=[f"{one.specimen}: {one.reason}" for one in
                                                                (*view.excluded, *view.voided)]),
        Section("corrected", "Corrected after the break", tables=_tabulate_corrections(facts)),
        Section("changed", "Changed after the plan was settled", listed=view.amended),
        Section("method", "How the numbers are made", listed=view.method),
        Section("breaks", "Every break", tables=[_tabulate_breaks(facts, view, units, unit)] if view.dots else []),
    ]  # fmt: skip
    answer = [view.summary.headline, view.summary.also] if view.summary else [view.waits or "Nothing is broken yet."]
    practice = " Broken for practice, some by a simulated rig." if facts.trial.practice else ""
    return write_report(
        Report(
            facts.trial.question,
            f"{len(view.dots)} pieces in {len(view.groups)} sets, reported on {file.now()[:10]}.{practice}",
            [words for words in answer if words],
            sections,
            f"Made with Adhaero {__version__} from its own records; each number comes from the breaks at the end.",
        )
    )


def _list_clear(view: CompareView) -> list[PairWords]:
    clear = [one for one in _lead(view) if one.verdict in (Verdict.A_STRONGER, Verdict.B_STRONGER, Verdict.SAME)]
    return clear[:_MOST_SAID]


def _say_shown(view: CompareView) -> list[str]:
    said = [view.summary.averages] if view.summary and view.summary.averages else []
    clear = [one for one in view.pairs if one.verdict is not Verdict.CANNOT_TELL]
    if len(clear) > _MOST_SAID:
        said.append(f"{len(clear)} pairs are settled; the first {_MOST_SAID} of them:")
    elif clear:
        said.append("What is settled, pair by pair:")
    return [*said, *([one.words for one in view.passing.rows] if view.passing else [])]


def _say_open(view: CompareView) -> list[str]:
    open_ = sum(one.verdict is Verdict.CANNOT_TELL for one in view.pairs)
    said = [view.waits] if view.waits else []
    if open_:
        said.append(
            f"Of {len(view.pairs)} pairs {open_} cannot be told apart yet; how many pieces more usually settle "
            "each stands pair by pair."
            if open_ > 1
            else "One pair cannot be told apart yet; how many pieces more usually settle it stands pair by pair."
        )
    return said


def _lead(view: CompareView) -> list[PairWords]:
    """Return the pairs from those of the strongest joints on; those with a baseline stand last."""
    strong = sorted(view.groups, key=lambda one: -(one.typical or one.at_least or one.at_most or 0.0))
    names = sorted((one.level for one in strong), key=lambda name: name in view.controls)
    rank = {name: at for at, name in enumerate(names)}
    return sorted(view.pairs, key=lambda one: rank.get(one.a, 0) + rank.get(one.b, 0))


def _say_pairs(view: CompareView) -> list[str]:
    if len(view.pairs) > _MOST_PAIRS:
        return [f"{_MOST_PAIRS} of {len(view.pairs)} pairs, the strongest joints first; the workbook has all of them."]
    return []


def _list_figures(view: CompareView, unit: DisplayUnit) -> list[FigureSet]:
    by_set: dict[str, list[Dot]] = {}
    for dot in view.dots:
        by_set.setdefault(dot.treatment, []).append(dot)
    groups = {group.level: group for group in view.groups}
    found = []
    for name, dots in by_set.items():
        group = groups.get(name)
        low, high = (group.typical_ci95 if group else None) or (None, None)
        found.append(
            FigureSet(
                name,
                [_draw_dot(dot, unit) for dot in dots if dot.strength is not None or dot.outcome == "fell_apart"],
                _times(group.typical if group else None, unit),
                _times(low, unit),
                _times(high, unit),
            )
        )
    return found


def _draw_dot(dot: Dot, unit: DisplayUnit) -> FigureDot:
    torn = dot.wood_failure_pct is not None and dot.wood_failure_pct >= 50
    held = _times(dot.held_strength, unit)
    return FigureDot(_times(dot.strength, unit) or 0.0, held, dot.judged.value, torn, dot.excluded is not None)


def _times(value: float | None, unit: DisplayUnit) -> float | None:
    return None if value is None else value * unit.per_si


def _number(value: float | None, unit: DisplayUnit | None = None, digits: int = 3) -> str:
    if value is None:
        return "–"
    shown = value * unit.per_si if unit is not None else value
    return f"{shown:.0f}" if abs(shown) >= 10**digits else f"{shown:.{digits}g}"


def _tabulate_sets(view: CompareView, unit: DisplayUnit) -> ReportTable:
    columns = ["set", "pieces", "average", "typical", "likely range", "worst to best", "scatter", "torn", "alike"]
    rows = []
    for group in view.groups:
        low, high = group.typical_ci95 or (None, None)
        read = group.as_read
        typical = (
            f"at least {_number(group.at_least, unit)}" if group.at_least is not None
            else f"at most {_number(group.at_most, unit)}" if group.at_most is not None
            else _number(group.typical, unit)
        )  # fmt: skip
        rows.append(
            [
                group.level, str(group.n), _number(read.mean, unit), typical,
                "–" if low is None and high is None else f"{_number(low, unit)} to {_number(high, unit)}",
                f"{_number(read.min, unit)} to {_number(read.max, unit)}",
                "–" if read.cv_pct is None else f"{read.cv_pct:.0f} %",
                "–" if group.wood_failure_pct is None else f"{group.wood_failure_pct:.0f} %", group.letters or "–",
            ]
        )  # fmt: skip
    caption = f"In {unit.symbol}. Sets that share a letter cannot be told apart."
    return ReportTable(columns, rows, caption, (1, 2, 3, 4, 5, 6, 7))


def _tabulate_pairs(view: CompareView) -> ReportTable:
    rows = [
        [f"{one.a} against {one.b}", one.differs or "–", one.range or "–", one.is_] for one in _lead(view)[:_MOST_PAIRS]
    ]
    return ReportTable(["first against second", "differs by", "likely range", "the first is"], rows, "", (1, 2))


def _say_asked(facts: PieceFacts) -> list[str]:
    trial = facts.trial
    said = [f"The question: {trial.question}"]
    if trial.guess:
        when = f", written on {trial.guess_utc[:10]}" if trial.guess_utc else ""
        said.append(f"The guess{when}: “{trial.guess}”")
    varied = {
        facts.words_of(row): [one.name for one in facts.levels.values() if one.factor_id == row.id]
        for row in facts.factors.values()
    }
    said += [f"Varied was {name}: {and_join(values)}." for name, values in varied.items() if values]
    if trial.conclusion:
        said.append(f"Concluded was: “{trial.conclusion}”")
    return said


_CONSTANT = (
    ("material_a", "wood"), ("material_b", "other part"), ("glue", "glue"), ("prep", "surfaces"), ("spread", "spread"),
    ("condition", "before the test"),
)  # fmt: skip


def list_constant(facts: PieceFacts) -> list[str]:
    """Return what was held the same by plan; of what was brought in that is not known."""
    trial, fixture = facts.trial, facts.fixture
    if fixture in UNSAID:
        return []
    varied = facts.set_by_sets
    found = [f"joint: {JOINTS[facts.joint].name}"] if trial.joint_said and "joint" not in varied else []
    found += [
        f"{words}: {value}" for name, words in _CONSTANT if (value := getattr(trial, name)) and name not in varied
    ]
    needed = {"clamp_pressure_mpa", "clamp_time_s", "cure_time_s", "length_mm", *needed_sizes(facts.joints, fixture)}
    found += [
        f"{QUANTITIES[name].words}: {row.typed}"
        for name, row in facts.quantities.items()
        if name in needed and name in QUANTITIES and name not in varied
    ]
    return found


def _say_made(facts: PieceFacts, sources: Sequence[str]) -> list[str]:
    said = []
    if sources:
        said.append(f"The pieces were brought in from {and_join(sources)}: what that does not say is not known.")
    woods = Counter(board.species for board in facts.boards.values() if board.species)
    if woods:
        said.append(
            f"{len(facts.boards)} {'board' if len(facts.boards) == 1 else 'boards'} of "
            f"{and_join([f'{name} ({count})' if len(woods) > 1 else name for name, count in woods.items()])}."
        )
    batches = list(facts.batches.values())
    if batches:
        said.append(
            f"{len(batches)} {'glue-up' if len(batches) == 1 else 'glue-ups'}, from {batches[0].started_utc[:10]}."
        )
    ages = sorted(age for piece in facts.pieces.values() if (age := facts.age_of(piece)) is not None)
    if ages:
        span = show(ages[0], Kind.TIME), show(ages[-1], Kind.TIME)
        said.append(f"From closing to breaking: {span[0] if span[0] == span[1] else ' to '.join(span)}.")
    through = Counter(
        f"{'' if one.planned_s is None else show(one.planned_s, Kind.TIME) + ' '}{EXPOSURES[one.kind]}"
        for own in facts.exposures.values()
        for one in own
    )
    said += [f"{count} pieces went through: {words}." for words, count in through.items()]
    return said


def _tabulate_glue_ups(facts: PieceFacts, units: Units) -> list[ReportTable]:
    batches: list[Batch] = list(facts.batches.values())
    if not batches:
        return []
    air = display_unit(Kind.TEMPERATURE, units.temperature)
    in_batch = Counter(piece.batch_id for piece in facts.pieces.values())
    clamped = {
        batch.id: [life.clamped_s for piece in facts.pieces.values() if piece.batch_id == batch.id
                   and (life := facts.life_of(piece)).clamped_s is not None]
        for batch in batches
    }  # fmt: skip
    rows = []
    for batch in batches:
        times = [one for one in clamped[batch.id] if one is not None]
        opened = f", opened {batch.glue_opened_on}" if batch.glue_opened_on else ""
        lot = f", lot {batch.glue_lot}" if batch.glue_lot else ""
        warm = batch.shop_temperature_c
        rows.append(
            [
                str(batch.number), f"{batch.glue}{opened}{lot}", batch.started_utc[:16].replace("T", " "),
                str(in_batch[batch.id]),
                "–" if warm is None else f"{warm * air.per_si + air.offset:.0f} {air.symbol}",
                "–" if batch.humidity_pct is None else f"{batch.humidity_pct:.0f} %",
                "–" if not times else show(min(times), Kind.TIME) if min(times) == max(times)
                else f"{show(min(times), Kind.TIME)} to {show(max(times), Kind.TIME)}",
            ]
        )  # fmt: skip
    columns = ["no.", "glue", "begun (UTC)", "pieces", "shop", "humidity", "in clamps"]
    return [ReportTable(columns, rows, "Glue-ups", (0, 3, 4, 5))]


def _say_broken(facts: PieceFacts) -> list[str]:
    form = FIXTURES[facts.fixture]
    said = [f"{form.name[:1].upper()}{form.name[1:]}. {form.sits}"]
    results = [result for piece in facts.pieces.values() if (result := facts.result_of(piece)) is not None]
    dates = sorted(one.started_utc[:10] for one in results if not one.undated)
    if dates:
        said.append(f"Broken {'on ' + dates[0] if dates[0] == dates[-1] else 'from ' + dates[0] + ' to ' + dates[-1]}.")
    if undated := sum(one.undated for one in results):
        said.append(f"When {undated} of them broke was not written down.")
    return said


def _list_rigs(file: ShopFile, facts: PieceFacts, units: Units) -> list[str]:
    force = display_unit(Kind.FORCE, units.force)
    results = [result for piece in facts.pieces.values() if (result := facts.result_of(piece)) is not None]
    found = []
    for rig_id in dict.fromkeys(one.rig_id for one in results if one.rig_id is not None):
        rig = facts.rigs.get(rig_id)
        if rig is None:
            continue
        mine = [one for one in results if one.rig_id == rig_id]
        numbers = sorted({version.number for one in mine if (version := facts.versions.get(one.version_id or 0))})
        truth = view_truth(file, rig_id)
        words = (
            f"{rig.name}: {len(mine)} pieces, pulls up to {_number(rig.capacity_n, force)} {force.symbol}, known to "
            f"{rig.resolution_typed}"
        )
        if numbers:
            words += f", version {and_join([str(one) for one in numbers])} of its card"
        if truth.calibrations:
            words += f"; calibrated {truth.calibrations[0].made_utc[:10]}: {truth.calibrations[0].words}"
        checks = truth.checks
        if checks:
            words += f"; {len(checks)} check {'weight' if len(checks) == 1 else 'weights'}, the last: {checks[0].words}"
        found.append(words + ("" if words.endswith(".") else "."))
    typed = sum(one.rig_id is None for one in results)
    if typed:
        found.append(f"{typed} loads were typed without a rig: how they were read is not known.")
    return found


def _tabulate_corrections(facts: PieceFacts) -> list[ReportTable]:
    rows = [
        [facts.pieces[piece_id].label, say_field(one.field), one.before or "nothing", one.after or "nothing",
         one.reason, one.at_utc[:10]]
        for piece_id, corrections in facts.corrections.items()
        if piece_id in facts.pieces
        for one in corrections
    ]  # fmt: skip
    return [ReportTable(["piece", "what", "was", "is", "why", "when"], rows)] if rows else []


_HAPPENED = {
    Outcome.BROKE: "broke", Outcome.HELD: "held", Outcome.STEP: "broke on the next weight",
    Outcome.FELL_APART: "fell apart",
}  # fmt: skip


def _tabulate_breaks(facts: PieceFacts, view: CompareView, units: Units, unit: DisplayUnit) -> ReportTable:
    force = display_unit(Kind.FORCE, units.force)
    response = f"{view.kind_words.lower()}, {unit.symbol}"
    columns = ["piece", "set", "board", f"load, {force.symbol}, or as typed", response,
               "what happened", "torn", "failed in", "broken on", "note"]  # fmt: skip
    rows = []
    for dot in view.dots:
        piece = facts.pieces[dot.piece_id]
        result = facts.result_of(piece)
        held = f" (held {_number(dot.held_strength, unit)})" if dot.held_strength is not None else ""
        aside = f"set aside: {dot.excluded}" if dot.excluded else ""
        notes = (aside, piece.note, result.note if result else "")
        load = (result.load_typed if result else "") or _number(dot.load_n, force, 4)
        rows.append(
            [
                dot.label, dot.treatment, dot.board, load, _number(dot.strength, unit) + held,
                _HAPPENED[dot.outcome],
                "–" if dot.wood_failure_pct is None else f"{dot.wood_failure_pct:g} %",
                FAILED_IN_WORDS[result.failure] if result and result.failure else "–",
                "not known" if result is None or result.undated else result.started_utc[:10],
                "; ".join(part for part in notes if part),
            ]
        )  # fmt: skip
    shown = [at for at in range(len(columns)) if at < 2 or any(row[at] not in ("–", "", "not known") for row in rows)]
    return ReportTable(
        [columns[at] for at in shown],
        [[row[at] for at in shown] for row in rows],
        f"{len(rows)} breaks, set by set.",
        [place for place, at in enumerate(shown) if at in (3, 4)],
        [place for place, at in enumerate(shown) if at in (0, 2, 5, 6, 7, 8)],
    )
