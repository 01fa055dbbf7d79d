"""How fast an analysis is, held against the same models in statsmodels (and in R where it is installed).

    make bench            (or: .venv/bin/python benchmarks/analyse.py [--rounds 5])

Prints ratios of one run, fails at nothing. In process: `analyse` with every pair. As a command: a fresh Python that
reads a file. statsmodels: least squares on logarithms with Tukey's pairs (`pairwise_tukeyhsd`) for plain breaks; the
censored likelihood as a `GenericLikelihoodModel` fitted by BFGS, without any pair. R: the linear model with every pair
of emmeans for plain breaks; survival's fit alone, without any pair, where pieces held.
"""

import argparse
import shutil
import subprocess
import sys
import tempfile
import time
import tracemalloc
import warnings
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np
from scipy import stats
from statsmodels.base.model import GenericLikelihoodModel
from statsmodels.stats.multicomp import pairwise_tukeyhsd

from adhaero.core.stats.analyse import Question, analyse
from adhaero.files.text_table import open_table
from adhaero.files.tidy_csv import Columns, read_tidy, write_tidy

CASES = ((60, 4), (1280, 32), (100_000, 32))
AIMS_MS = {"": 100, "on 40 joined boards": 100, "on boards that do not join": 1000}
QUESTION = Question("strength_MPa", "glue")
R_MODEL = """suppressMessages({{library(survival); library(emmeans)}})
emm_options(msg.interaction = FALSE, rg.limit = 1e6)
d <- read.csv('{path}'); d$glue <- factor(d$glue)
plain <- function() confint(pairs(emmeans(lm(log(strength_MPa) ~ glue, d), ~ glue)))
held <- function() survreg(Surv(strength_MPa, outcome != 'held') ~ glue, d, dist = 'lognormal')
invisible({model}())
cat(1000 * min(sapply(1:3, function(turn) system.time({model}())[['elapsed']])))"""


def make(pieces: int, sets: int, *, held: bool, boards: str = "") -> list[dict[str, object]]:
    """Return the rows of a trial; 30 % of the pieces held where asked, boards that do not join: half of the sets."""
    rng = np.random.default_rng(pieces)
    group = np.arange(pieces) % sets
    logs = 4 + 0.02 * group + rng.normal(0, 0.15, pieces)
    limit = np.quantile(logs, 0.7) if held else np.inf
    return [
        {
            "specimen": f"P{turn}",
            "glue": f"G{group[turn]:02}",
            "strength_MPa": float(np.exp(min(logs[turn], limit))),
            "outcome": "held" if logs[turn] > limit else "broke",
            "board": f"B{turn // sets % 40}" + (f" of {group[turn] % 2}" if boards.endswith("not join") else ""),
        }
        for turn in range(pieces)
    ]


def best(run: Callable[[], object], rounds: int) -> float:
    """Return the shortest time of several, ms."""
    found = []
    for _ in range(rounds):
        start = time.perf_counter()
        run()
        found.append(1000 * (time.perf_counter() - start))
    return min(found)


class _Censored(GenericLikelihoodModel):
    """Log-normal strengths with pieces that held, group by group."""

    def __init__(self, endog: np.ndarray, exog: np.ndarray, held: np.ndarray) -> None:
        super().__init__(endog, exog)
        self.held = held

    def loglike(self, params: np.ndarray) -> float:
        z = (self.endog - self.exog @ params[:-1]) / np.exp(params[-1])
        return float(np.where(self.held, stats.norm.logsf(z), stats.norm.logpdf(z) - params[-1]).sum())


def fit_statsmodels(rows: list[dict[str, object]], *, held: bool) -> None:
    """Fit the same model in statsmodels."""
    logs = np.log([row["strength_MPa"] for row in rows])
    glue = np.array([row["glue"] for row in rows])
    if not held:
        pairwise_tukeyhsd(logs, glue)
        return
    names = np.unique(glue)
    design = (glue[:, None] == names).astype(float)
    start = np.append([logs[glue == name].mean() for name in names], np.log(logs.std()))
    model = _Censored(logs, design, np.array([row["outcome"] == "held" for row in rows]))
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        model.fit(start, method="bfgs", disp=0, maxiter=200)


def measure(pieces: int, sets: int, rounds: int, *, held: bool, boards: str = "") -> None:
    """Print one line of the table; `boards` is one of `AIMS_MS`."""
    rows = make(pieces, sets, held=held, boards=boards)
    question = replace(QUESTION, block="board" if boards else None)
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "breaks.csv"
        file.write_text(write_tidy(list(rows[0]), rows))
        with open_table(file) as source:
            specimens = read_tidy(source, Columns("strength_MPa", ("glue",), question.block))
        analyse.__wrapped__(specimens[:10], QUESTION)
        ours = best(lambda: analyse.__wrapped__(specimens, question), rounds)
        words = [
            sys.executable,
            "-m",
            "adhaero",
            "analyse",
            str(file),
            "--response",
            "strength_MPa",
            "--by",
            "glue",
            "--json",
            *(["--block", "board"] if boards else []),
        ]
        command = best(lambda: subprocess.run(words, check=True, capture_output=True), min(rounds, 2))
        theirs = "–"
        if not boards and not (held and pieces > 2000):
            spent = best(lambda: fit_statsmodels(rows, held=held), 1)
            theirs = f"{spent / ours:.1f} times as long"
        r = "–" if boards else _time_r(file, ours, held=held)
        aim = f"{ours / AIMS_MS[boards]:.2f} of {AIMS_MS[boards]} ms" if pieces == 1280 else "–"
        kind = " ".join(filter(None, ["30 % held" if held else "plain", boards]))
        print(
            f"| {pieces:,} | {sets} | {kind} | {ours:.0f} ms | {aim} | {command:.0f} ms | {theirs} | {r} |", flush=True
        )


def _time_r(file: Path, ours: float, *, held: bool) -> str:
    if shutil.which("Rscript") is None:
        return "R is not installed"
    model = R_MODEL.format(path=file, model="held" if held else "plain")
    done = subprocess.run(["Rscript", "-e", model], capture_output=True, text=True, check=False)
    if done.returncode != 0:
        return "R lacks survival or emmeans"
    spent = float(done.stdout)
    return f"{spent / ours:.1f} times as long ({spent:.0f} ms{', the fit alone' if held else ''})"


def measure_memory(pieces: int) -> None:
    """Print what a million rows take, for each row, beside the same rows as a list of dictionaries."""
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "breaks.csv"
        with file.open("w") as out:
            out.write("specimen,glue,strength_MPa,outcome\n")
            out.writelines(f"P{turn},G{turn % 32:02},{50 + turn % 977 / 100},\n" for turn in range(pieces))
        size = file.stat().st_size
        tracemalloc.start()
        with open_table(file) as source:
            start = time.perf_counter()
            specimens = read_tidy(source, Columns("strength_MPa", ("glue",)))
            spent = time.perf_counter() - start
        held = tracemalloc.get_traced_memory()[1]
        tracemalloc.stop()
        print(
            f"\n{len(specimens):,} rows read line by line in {spent:.0f} s (traced): at most {held / 1e6:.0f} MB, "
            f"{held / pieces:.0f} bytes a row, {held / size:.1f} times the file"
        )


def main() -> None:
    """Print the table."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--rounds", type=int, default=5)
    asked = parser.parse_args()
    print(
        "| pieces | sets | breaks | in process, every pair | of the aim | as a command | statsmodels takes | R takes |"
    )
    print("|---|---|---|---|---|---|---|---|")
    for pieces, sets in CASES:
        for held in (False, True):
            measure(pieces, sets, asked.rounds, held=held)
        if pieces == 1280:
            for boards in list(AIMS_MS)[1:]:
                for held in (False, True):
                    measure(pieces, sets, asked.rounds, held=held, boards=boards)
    measure_memory(1_000_000)


if __name__ == "__main__":
    main()
