"""An example of each body, for the API's own page: what a small maker of paddles would send.

A test reads each example into its form, and asks that every body has one.
"""

from types import MappingProxyType
from typing import Any, Final

_BOARD: Final = {
    "name": "Ash plank 4",
    "species": "ash",
    "length": "2.4 m",
    "width": "180 mm",
    "thickness": "27 mm",
    "moisture": "9",
    "price": "64",
}
_CLAMPS: Final = {"name": "Bar 300", "kind": "screw clamp", "number": "6", "force": "1.2 kN", "force_known": "measured"}
_RIG: Final = {"name": "Bench press", "url": "/dev/ttyUSB0", "unit": "kgf", "capacity": "500 kgf", "resolution": "0.1"}
_JUDGEMENT: Final = {"outcome": "broke", "wood_failure": "75", "failure": "wood", "note": "let go from the tip"}
_SAID: Final = {"roles": [{"key": "Dock!C", "role": "ignore"}], "layouts": [], "answers": [], "sheet": "Dock"}
_PIECES: Final = {"pieces": [11, 12, 13]}

_VALUES: Final = {
    "load": "41.5 kg",
    "outcome": "broke",
    "wood_failure": "75",
    "failure": "wood",
    "note": "",
    "broken_at": "2026-04-13T09:30:00+00:00",
    "sizes": [{"name": "width_mm", "typed": "22.1 mm"}],
}

EXAMPLES: Final = MappingProxyType(
    {
        "Again": {"only_missing": True},
        "ArmEntry": {"piece": 11, "rig": 1},
        "BatchEntry": _PIECES | {"glue": "Casein 2", "shop_temperature": "18 °C", "humidity": "52 %"},
        "BeginEntry": {
            "factor_id": 1,
            "a": "Casein 2",
            "b": "Heron",
            "pieces": 8,
            "held": [{"factor_id": 2, "value": "dry"}],
        },
        "BoardEntry": {"species": "ash", "holds": "8", "count": "3"},
        "CalibrationEntry": {
            "points": [
                {"weight": "0", "shown": "0.1 kg", "rising": True},
                {"weight": "10 kg", "shown": "10.2 kg", "rising": True},
                {"weight": "20 kg", "shown": "20.3 kg", "rising": True},
            ]
        },
        "CallEntry": {"subject": "glue", "name": "Heron epoxy", "called": "Heron"},
        "CheckEntry": _PIECES | {"words": "Chamfered alike", "done": True},
        "CheckWeightEntry": {"shown": "20.1 kg"},
        "Chosen": _PIECES | {"at_utc": "2026-04-13T09:30:00Z"},
        "ClampsEdit": {"was": _CLAMPS, "now": _CLAMPS | {"number": "8"}},
        "ClampsEntry": _CLAMPS,
        "Command": {"command": "PUMP start"},
        "Conclusion": {"was": "", "text": "Casein is stronger than fish."},
        "ControlEntry": {"kind": "solid"},
        "CorrectionEntry": {"was": _VALUES, "now": _VALUES | {"load": "45.1 kg"}, "reason": "digits swapped"},
        "Done": {"done": True},
        "DropEntry": {"treatment_id": 4, "reason": "it is far behind"},
        "Edit": {"field": "width", "was": "22 mm", "now": "22.4 mm"},
        "FaceEntry": {"wood_failure": "75", "failure": "wood"},
        "FactorEntry": {"kind": "glue"},
        "ForceEntry": _PIECES | {"rig_id": 1},
        "GlueEntry": {"name": "Casein 2", "family": "casein", "opened_on": "2026-03-30", "lot": "K 11"},
        "Guesses": {"guesses": [{"treatment_id": 3, "percent": "120"}], "held": "10"},
        "HandBreak": {"piece": 11, "load": "41.5 kg", "judgement": _JUDGEMENT},
        "JoinEntry": {
            "subject": "glue",
            "place": "scarf, bending, two loads, face to face grain, kept as they are",
            "with_place": "scarf, bending, two loads, face to face grain, 7 d outdoors",
        },
        "Judgement": _JUDGEMENT,
        "LeaveOut": {"treatments": [4, 5], "out": True},
        "LevelEntry": {"value": "Casein 2", "family": "casein"},
        "PanelEntry": {"level": 7, "reason": "the river froze"},
        "PracticePiece": {"piece": 11, "rig": 1, "mode": "slip"},
        "LateEntry": {
            "pieces": 6,
            "boards": "Ash 7",
            "reason": "a glue that came later",
            "values": [{"factor_id": 1, "value": "Kestrel", "family": "epoxy"}],
        },
        "NewerEntry": {"said": _SAID, "picks": ["changed Dock!C5"]},
        "Pin": {"pinned": True, "begin_utc": "2026-04-13T09:30:00Z"},
        "PlanEdit": {"field": "pieces_each", "was": "8", "now": "10", "reason": "two boards more"},
        "PlateEdit": {"was": {"weight": "10 kg", "number": "4"}, "now": {"weight": "10 kg", "number": "6"}},
        "PlateEntry": {"weight": "10 kg", "number": "4"},
        "PointEntry": {"point": "first_drop", "reason": "it slipped before"},
        "PrepareEntry": _PIECES | {"done": True},
        "PutIn": _PIECES | {"kind": "soak", "planned": "24 h", "note": "river water"},
        "Rewrite": {"was": "", "now": "the heater stood beside it"},
        "RigChosen": {"rig": 1},
        "RigEdit": {"was": _RIG, "now": _RIG | {"capacity": "300 kgf"}},
        "RigEntry": _RIG,
        "SawnEntry": _PIECES | {"sawn": True},
        "ShopBoards": {"stock": [1, 2]},
        "SpacedEntry": {"lowest": "1 h", "highest": "7 d", "count": "5", "spacing": "ratio"},
        "StackEntry": {"piece": 11, "plates": [1, 1, 3], "rig": 2},
        "StarterEntry": {"starter": "which-glue", "question": "Which glue for a shaft that gets wet?"},
        "StepEntry": _PIECES | {"step": "spread"},
        "StockBoardEdit": {"was": _BOARD, "now": _BOARD | {"moisture": "8"}},
        "StockBoardEntry": _BOARD,
        "StopEntry": {"complete": 6},
        "SwapEntry": {"other": 12},
        "TableSaid": _SAID,
        "TakeEntry": {"said": _SAID, "question": "Which glue did best on the dock?", "broken_on": "2024-05-31"},
        "Tested": _PIECES | {"state": "wet"},
        "TimetableEntry": {"odd_hours": False, "give": "10 %", "break_each": "2 min"},
        "TreatmentEntry": {"treatment_id": 4, "reason": "the wrong bottle"},
        "TrialEntry": {"question": "Which glue for a shaft that gets wet?", "practice": False},
        "UnitChoice": {"printed": "kg", "right": "printed"},
        "Why": {"reason": "it fell off the bench"},
        "WorkEntry": {"words": "Plane to 18 mm", "turn": "after"},
    }
)


def show_examples(document: dict[str, Any]) -> None:
    """Put each example beside the schema of its body."""
    for name, example in EXAMPLES.items():
        document["components"]["schemas"][name]["examples"] = [example]
