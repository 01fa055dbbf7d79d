"""Routes of the Plan station."""

from fastapi import APIRouter
from pydantic import BaseModel

from adhaero.api.body import Sent
from adhaero.api.common import Created, RowId, Said, TrialId
from adhaero.api.context import JsonLines, Shop, as_json_lines
from adhaero.bench.facts.entry import Edit
from adhaero.bench.plan import boards, edits, factors, late, levels, settled, starters, trials
from adhaero.bench.plan import dry_run as plan_dry_run
from adhaero.bench.plan import treatments as plan_treatments
from adhaero.bench.plan import view as plan_view
from adhaero.bench.plan.boards import BoardEntry, ShopBoards
from adhaero.bench.plan.dry_run import Guesses
from adhaero.bench.plan.edits import PlanEdit
from adhaero.bench.plan.factors import FactorEntry
from adhaero.bench.plan.late import LateEntry
from adhaero.bench.plan.levels import LevelEntry, SpacedEntry
from adhaero.bench.plan.settled import Again
from adhaero.bench.plan.starters import StarterEntry
from adhaero.bench.plan.treatments import ControlEntry, LeaveOut
from adhaero.bench.plan.trials import TrialEntry
from adhaero.core.plan.starters import STARTERS

router = APIRouter(tags=["plan"])


class StarterView(BaseModel):
    """A common question to start from."""

    key: str
    question: str
    words: str


@router.post("/api/trials", status_code=201)
def create_trial(shop: Shop, body: Sent[TrialEntry]) -> Created:
    """Start a trial from its question."""
    return Created(id=trials.create_trial(shop.file, body.question, practice=body.practice))


@router.get("/api/trials/starters")
def list_starters() -> list[StarterView]:
    """Return the common questions to start from."""
    return [StarterView(key=key, question=one.question, words=one.words) for key, one in STARTERS.items()]


@router.post("/api/trials/from-starter", status_code=201)
def start_from(shop: Shop, body: Sent[StarterEntry]) -> Created:
    """Start a trial from a common question."""
    new_id = starters.start_from(shop.file, body.starter, practice=body.practice, question=body.question)
    return Created(id=new_id)


@router.get("/api/trials/{trial_id}/plan")
def get_plan(shop: Shop, trial_id: TrialId) -> plan_view.PlanView:
    """Return the plan and what it leads to."""
    return plan_view.view_plan(shop.file, trial_id)


@router.patch("/api/trials/{trial_id}/plan")
def edit_plan(shop: Shop, trial_id: TrialId, body: Sent[PlanEdit]) -> plan_view.PlanView:
    """Set one word or quantity of the plan."""
    edits.edit_plan(shop.file, trial_id, body.field, body.was, body.now, body.reason)
    return plan_view.view_plan(shop.file, trial_id)


@router.post("/api/trials/{trial_id}/factors", status_code=201)
def add_factor(shop: Shop, trial_id: TrialId, body: Sent[FactorEntry]) -> Created:
    """Vary one more thing."""
    return Created(id=factors.add_factor(shop.file, trial_id, body.kind, body.name))


@router.patch("/api/trials/{trial_id}/factors/{factor_id}")
def edit_factor(shop: Shop, trial_id: TrialId, factor_id: RowId, body: Sent[Edit]) -> plan_view.PlanView:
    """Set what is varied, its name, or the values it goes with."""
    factors.edit_factor(shop.file, trial_id, factor_id, body.field, body.was, body.now)
    return plan_view.view_plan(shop.file, trial_id)


@router.delete("/api/trials/{trial_id}/factors/{factor_id}")
def remove_factor(shop: Shop, trial_id: TrialId, factor_id: RowId) -> plan_view.PlanView:
    """Hold constant again what was varied."""
    factors.remove_factor(shop.file, trial_id, factor_id)
    return plan_view.view_plan(shop.file, trial_id)


@router.post("/api/trials/{trial_id}/factors/{factor_id}/levels", status_code=201)
def add_level(shop: Shop, trial_id: TrialId, factor_id: RowId, body: Sent[LevelEntry]) -> Created:
    """Add a value of what is varied."""
    return Created(id=levels.add_level(shop.file, trial_id, factor_id, body))


@router.post("/api/trials/{trial_id}/factors/{factor_id}/spaced")
def add_spaced(shop: Shop, trial_id: TrialId, factor_id: RowId, body: Sent[SpacedEntry]) -> plan_view.PlanView:
    """Add values from the lowest to the highest."""
    levels.add_spaced(shop.file, trial_id, factor_id, body)
    return plan_view.view_plan(shop.file, trial_id)


@router.delete("/api/trials/{trial_id}/levels/{level_id}")
def remove_level(shop: Shop, trial_id: TrialId, level_id: RowId) -> plan_view.PlanView:
    """Remove a value and the sets made with it."""
    levels.remove_level(shop.file, trial_id, level_id)
    return plan_view.view_plan(shop.file, trial_id)


@router.post("/api/trials/{trial_id}/controls", status_code=201)
def add_control(shop: Shop, trial_id: TrialId, body: Sent[ControlEntry]) -> Created:
    """Add a baseline."""
    return Created(id=plan_treatments.add_control(shop.file, trial_id, body.kind, body.recipe))


@router.post("/api/trials/{trial_id}/treatments/leave-out")
def leave_out(shop: Shop, trial_id: TrialId, body: Sent[LeaveOut]) -> plan_view.PlanView:
    """Leave combinations out of the plan, or take them in again."""
    plan_treatments.leave_out(shop.file, trial_id, body.treatments, out=body.out)
    return plan_view.view_plan(shop.file, trial_id)


@router.patch("/api/trials/{trial_id}/treatments/{treatment_id}")
def edit_treatment(shop: Shop, trial_id: TrialId, treatment_id: RowId, body: Sent[Edit]) -> plan_view.PlanView:
    """Set the pieces of one set, or how a baseline is made."""
    plan_treatments.edit_treatment(shop.file, trial_id, treatment_id, body.field, body.was, body.now)
    return plan_view.view_plan(shop.file, trial_id)


@router.delete("/api/trials/{trial_id}/treatments/{treatment_id}")
def remove_treatment(shop: Shop, trial_id: TrialId, treatment_id: RowId) -> plan_view.PlanView:
    """Remove a baseline from an open plan."""
    plan_treatments.remove_control(shop.file, trial_id, treatment_id)
    return plan_view.view_plan(shop.file, trial_id)


@router.post(
    "/api/trials/{trial_id}/dry-run",
    response_class=JsonLines,
    responses={200: {"model": plan_dry_run.Rehearsal, "description": "A line now and then, then the outlook"}},
)
def dry_run(shop: Shop, trial_id: TrialId, body: Sent[Guesses]) -> JsonLines:
    """Break the planned trial many times on paper; a line of JSON tells how far it has come."""
    return as_json_lines(plan_dry_run.rehearse(shop.file, trial_id, body.guesses, body.held))


@router.post("/api/trials/{trial_id}/copy", status_code=201)
def plan_again(shop: Shop, trial_id: TrialId, body: Sent[Again]) -> Created:
    """Start a trial with the plan of this one."""
    return Created(id=settled.copy_plan(shop.file, trial_id, only_missing=body.only_missing))


@router.post("/api/trials/{trial_id}/boards/from-shop", status_code=201)
def take_boards(shop: Shop, trial_id: TrialId, body: Sent[ShopBoards]) -> plan_view.PlanView:
    """Take boards of the shop into an open plan."""
    boards.take_from_shop(shop.file, trial_id, body.stock)
    return plan_view.view_plan(shop.file, trial_id)


@router.post("/api/trials/{trial_id}/boards/{board_id}/fit")
def fit_board(shop: Shop, trial_id: TrialId, board_id: RowId) -> plan_view.PlanView:
    """Let a board hold as many pieces as its size yields."""
    boards.fit_board(shop.file, trial_id, board_id)
    return plan_view.view_plan(shop.file, trial_id)


@router.post("/api/trials/{trial_id}/boards", status_code=201)
def add_boards(shop: Shop, trial_id: TrialId, body: Sent[BoardEntry]) -> plan_view.PlanView:
    """Add boards to an open plan."""
    boards.add_boards(shop.file, trial_id, body)
    return plan_view.view_plan(shop.file, trial_id)


@router.patch("/api/trials/{trial_id}/boards/{board_id}")
def edit_board(shop: Shop, trial_id: TrialId, board_id: RowId, body: Sent[Edit]) -> plan_view.PlanView:
    """Set a board's name, wood or number of places."""
    boards.edit_board(shop.file, trial_id, board_id, body.field, body.was, body.now)
    return plan_view.view_plan(shop.file, trial_id)


@router.delete("/api/trials/{trial_id}/boards/{board_id}")
def remove_board(shop: Shop, trial_id: TrialId, board_id: RowId) -> plan_view.PlanView:
    """Remove a board from an open plan."""
    boards.remove_board(shop.file, trial_id, board_id)
    return plan_view.view_plan(shop.file, trial_id)


@router.post("/api/trials/{trial_id}/shuffle", status_code=204)
def shuffle(shop: Shop, trial_id: TrialId) -> None:
    """Deal an open plan by another seed."""
    edits.shuffle_again(shop.file, trial_id)


@router.post("/api/trials/{trial_id}/settle")
def settle(shop: Shop, trial_id: TrialId) -> Said:
    """Settle the plan: every piece gets its label."""
    return Said(what=f"{settled.freeze_plan(shop.file, trial_id)} pieces have labels")


@router.post("/api/trials/{trial_id}/pieces/join")
def join_late(shop: Shop, trial_id: TrialId, body: Sent[LateEntry]) -> Said:
    """Let pieces join a settled trial, with the reason."""
    return Said(what=f"{', '.join(late.add_late(shop.file, trial_id, body))} joined")


@router.post("/api/trials/{trial_id}/reopen")
def reopen(shop: Shop, trial_id: TrialId) -> Said:
    """Reopen a settled plan."""
    settled.reopen_plan(shop.file, trial_id)
    return Said(what="The plan is open")
