"""Conclusions in a person's words against made-up data: the shared corpus, and ways to fool a reader of ours."""

import json
from collections.abc import Sequence
from pathlib import Path

import pytest
from typer.testing import CliRunner

from adhaero.cli import app
from adhaero.core.claims.check import Answer, check_conclusions
from adhaero.core.claims.evidence import Evidence, evidence_of_sets
from adhaero.core.claims.standing import Standing
from adhaero.core.stats.analyse import Question
from adhaero.core.stats.breaks import Outcome, Specimen

FOLDER = Path(__file__).parents[2] / "reference" / "claims"
CASES = [json.loads(line) for line in (FOLDER / "claims.jsonl").read_text().splitlines()]
GROUPS = sorted({(one["command"], one["data"], tuple(one["arguments"])) for one in CASES})


@pytest.mark.parametrize(("command", "data", "arguments"), GROUPS)
def test_the_corpus_is_read_and_judged_as_a_careful_person_does(
    command: str, data: str, arguments: Sequence[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.chdir(FOLDER)
    mine = [
        one for one in CASES if (one["command"], one["data"], tuple(one["arguments"])) == (command, data, arguments)
    ]
    words = [part for one in mine for part in ("--claim", one["claim"])]
    done = CliRunner().invoke(app, [command, data, *arguments, *words, "--json"], catch_exceptions=False)
    answers = json.loads(done.stdout)["claims"]
    wrong = []
    for number, one in enumerate(mine):
        found = [answer["standing"] for answer in answers if answer["conclusion"] == number]
        if found != one["expect"]:
            wrong.append((one["claim"], one["expect"], found))
    assert wrong == []


def trial(names: Sequence[str] = ("Heron", "Wren", "Plover"), strengths: Sequence[float] = (60, 50, 30)) -> Evidence:
    """Three sets that are clearly apart, each of six pieces that scatter by 2 %."""
    shape = (0.98, 0.99, 1.0, 1.0, 1.01, 1.02)
    rows = tuple(
        Specimen(f"{at}-{turn}", name, strength * times, wood_failure_pct=80.0 if at == 0 else 10.0)
        for at, (name, strength) in enumerate(zip(names, strengths, strict=True))
        for turn, times in enumerate(shape)
    )
    return evidence_of_sets({"": rows}, Question("strength_MPa", "glue"))


def ask(text: str, evidence: Evidence | None = None) -> list[Answer]:
    return check_conclusions([text], evidence or trial())


@pytest.mark.parametrize(
    "text",
    [
        "Heron has more boards than Wren",
        "Heron beat Wren twice",
        "Heron is only 20 % stronger than Wren",
        "Heron is not stronger than any",
        "Heron is anything but weaker than Wren",
        "Heron is stronger than Wren on Tuesdays",
        "Heron is stronger than Wren or Plover",
        "If it rains, Heron is stronger than Wren",
        "Heron would be stronger than Wren",
        "Perhaps Heron is stronger than Wren?",
        "Nobody doubts that Heron is stronger than Wren",
        "It is not true that Heron is not stronger than Wren",
        "Heron is stronger than Teal",
        "Heron is 20 points stronger than Wren",
        "Heron is 20 % stronger",
        "Heron costs more than Wren",
        "Heron is the weakest but one",
        "Heron is stronger than Wren by far the most",
        "At 20 °C Heron is stronger than Wren",
        "Heron is 10 lb stronger than Wren",
        "Heron is stronger than Wren per euro",
        "Heron took longer than Wren",
        "Heron is as weak as Wren",
        "Heron is 20 stronger than Wren",
        "Herons beat wrens in the wild",
    ],
)
def test_what_is_not_wholly_read_is_never_judged(text: str) -> None:
    assert {one.standing for one in ask(text)} == {Standing.NOT_CHECKED}, ask(text)


@pytest.mark.parametrize(
    ("text", "standings"),
    [
        ("Heron is stronger than Wren", "s"),
        ("Heron is 20 % stronger than Wren", "s"),
        ("Wren has 83 % of the strength of Heron", "s"),
        ("Wren lost 83 % against Heron", "c"),
        ("Wren is 17 % weaker than Heron, Plover 50 %", "ss"),
        ("Plover lost half of its strength", "x"),
        ("Compared with Heron Plover lost half", "s"),
        ("Heron doubled Plover's strength", "x"),
        ("Heron is twice as strong as Plover", "s"),
        ("Plover is not twice as strong as Heron", "s"),
        ("Heron, then Wren, then Plover", "ss"),
        ("Plover < Wren < Heron", "ss"),
        ("Heron first, Wren second, Plover last", "sss"),
        ("Neither Wren nor Plover beats Heron", "s"),
        ("Every set but Plover is at least as strong as Wren", "s"),
        ("Everything but Heron is weaker than Heron", "s"),
        ("Heron is the strongest and Plover the weakest", "ss"),
        ("Wren is the second strongest", "s"),
        ("Heron is 10 MPa stronger than Wren, and Wren 20 MPa stronger than Plover", "ss"),
        ("The average of Heron is 60 MPa; no piece of it broke below 58 MPa", "sx"),
        ("Heron averages 8702 psi", "s"),
        ("No piece of Heron broke below 58 MPa", "s"),
        ("All of Heron tore in the wood", "s"),
        ("6 of 6 pieces of Wren failed in the glue", "s"),
        ("Heorn is stronger than Wren", "s"),
        ("Heron is slightly stronger than Wren", "s"),
        ("Heron is slightly stronger than Plover", "c"),
        ("Heron is much stronger than Plover", "s"),
        ("Heron is between 15 and 25 % stronger than Wren", "s"),
        ("Heron is no more than 10 % stronger than Wren", "c"),
        ("Heron is 1000 MPa stronger than Wren", "c"),
        ("Wren and Plover are all weaker than Heron", "s"),
        ("Wren and Plover are not all weaker than Heron", "x"),
        ("Heron is double Plover", "s"),
        ("Heron is not double Plover", "n"),
        ("6 of 6 Wren pieces failed in the glue", "s"),
        ("No Heron piece broke below 58 MPa", "s"),
        ("Every piece of Heron held more than about 50 MPa", "x"),
        ("Heron has 6 pieces", "s"),
        ("Heron has 5 pieces", "c"),
        ("Heron averages over 70 MPa", "c"),
        ("The best piece of Plover is weaker than the worst piece of Heron", "s"),
    ],
)
def test_what_is_read_is_judged_by_the_numbers(text: str, standings: str) -> None:
    words = {
        "s": Standing.SUPPORTED,
        "c": Standing.CONTRADICTED,
        "n": Standing.NOT_SUPPORTED,
        "x": Standing.NOT_CHECKED,
    }
    assert [one.standing for one in ask(text)] == [words[one] for one in standings], ask(text)


@pytest.mark.parametrize(
    ("outcome", "value", "text", "standing"),
    [
        (Outcome.FELL_APART, 31, "Every piece of Heron held more than 30 MPa", Standing.NOT_CHECKED),
        (Outcome.FELL_APART, 29, "Every piece of Heron held more than 30 MPa", Standing.CONTRADICTED),
        (Outcome.HELD, 31, "Every piece of Heron held more than 30 MPa", Standing.SUPPORTED),
        (Outcome.HELD, 30, "Every piece of Heron held more than 30 MPa", Standing.NOT_CHECKED),
        (Outcome.HELD, 29, "1 of 4 pieces of Heron broke below 30 MPa", Standing.NOT_CHECKED),
        (Outcome.FELL_APART, 29, "1 of 4 pieces of Heron broke below 30 MPa", Standing.SUPPORTED),
        (Outcome.FELL_APART, 35, "The worst piece of Heron beat the best piece of Wren", Standing.NOT_CHECKED),
        (Outcome.BROKE, 35, "The worst piece of Heron beat the best piece of Wren", Standing.SUPPORTED),
    ],
)
def test_pieces_that_only_bound_a_count_leave_it_open(
    outcome: Outcome, value: float, text: str, standing: Standing
) -> None:
    rows = [Specimen(f"H{turn}", "Heron", 40.0 + turn) for turn in range(3)]
    rows += [Specimen("H9", "Heron", value, outcome), *(Specimen(f"W{turn}", "Wren", 20.0 + turn) for turn in range(4))]
    (found,) = ask(text, evidence_of_sets({"": tuple(rows)}, Question("strength_MPa", "glue")))
    assert found.standing is standing, found


NAMES = [
    ("A", "B", "C"),
    ("rain", "half", "than"),
    ("Wren", "Wren gel", "gel 2"),
    ("1", "2", "3"),
    ("not", "same", "I"),
]


@pytest.mark.parametrize("names", NAMES, ids=",".join)
def test_names_change_nothing_but_the_names(names: tuple[str, str, str]) -> None:
    a, b, c = names
    for pattern in ("{} is stronger than {}", "{} beats {}", "{} is 20 % stronger than {}", "{} is not weaker than {}"):
        for first, second in ((a, b), (b, a), (c, a)):
            plain = dict(zip(names, ("Heron", "Wren", "Plover"), strict=True))
            renamed = ask(pattern.format(first, second), trial(names))
            expected = ask(pattern.format(plain[first], plain[second]))
            standing = renamed[0].standing
            # refusing is always allowed, another answer never
            assert standing in (expected[0].standing, Standing.NOT_CHECKED), renamed
            if names[0] in ("A", "Wren"):
                assert standing is expected[0].standing, renamed


def test_the_base_of_every_percent_is_named_and_both_what_is_kept_and_what_is_lost() -> None:
    (one,) = ask("Wren keeps 83 % of Heron")
    assert one.understood == "Wren has 80.5 to 85.5 % of the strength of Heron (14.5 to 19.5 % less)"
    assert one.words.startswith("Wren has 83 % of the strength of Heron, 17 % less (")
    assert ask("Wren isn’t as strong as Heron")[0].standing is Standing.SUPPORTED
    assert dict(ask("Plovr is weaker than Heron")[0].taken_as) == {"Plovr": "Plover"}
    assert ask("I think Heron is clearly stronger than Wren")[0].left_out == ("I think", "clearly")
