"""Routes of the Plan station, and of trials as such."""

from typing import Annotated

from fastapi import APIRouter, Path
from pydantic import BaseModel, Field
from starlette.responses import Response

from adhaero.api.context import Shop, as_json
from adhaero.bench import boards, plan, rack, sets, undo
from adhaero.store.history import Change

router = APIRouter(prefix="/api/trials", tags=["plan"])

TrialId = Annotated[int, Path(ge=1, le=2**62)]
RowId = Annotated[int, Path(ge=1, le=2**62)]
BodyId = Annotated[int, Field(ge=1, le=2**62)]


class Created(BaseModel):
    """The id of what was made."""

    id: int


class Said(BaseModel):
    """What was done, in words."""

    what: str


class NewTrial(BaseModel):
    """A question to start a trial with."""

    question: str = Field(max_length=1000)
    practice: bool | None = None


class Edit(BaseModel):
    """One field: what it held when it was shown, and what it shall hold."""

    field: str = Field(max_length=60)
    was: str = Field(max_length=2000)
    now: str = Field(max_length=2000)


class NewSet(BaseModel):
    """A value of what is varied."""

    value: str = Field(default="", max_length=200)
    pieces: int = Field(default=5, ge=0, le=1000)
    family: str = Field(default="", max_length=60)
    solid: bool = False


class NewBoards(BaseModel):
    """Boards alike, as typed."""

    species: str = Field(default="", max_length=200)
    holds: str = Field(max_length=60)
    count: str = Field(default="1", max_length=60)


@router.post("", status_code=201)
def create_trial(shop: Shop, body: NewTrial) -> Created:
    """Start a trial from its question."""
    return Created(id=plan.create_trial(shop.file, body.question, practice=body.practice))


@router.get("/{trial_id}/rack", response_model=rack.RackView)
def get_rack(shop: Shop, trial_id: TrialId) -> Response:
    """Return the rack and the flow."""
    return as_json(rack.view_rack(shop.file, trial_id))


@router.get("/{trial_id}/plan")
def get_plan(shop: Shop, trial_id: TrialId) -> plan.PlanView:
    """Return the plan and what it leads to."""
    return plan.view_plan(shop.file, trial_id)


@router.patch("/{trial_id}/plan")
def edit_plan(shop: Shop, trial_id: TrialId, body: Edit) -> plan.PlanView:
    """Set one word or quantity of the plan."""
    plan.edit_plan(shop.file, trial_id, body.field, body.was, body.now)
    return plan.view_plan(shop.file, trial_id)


@router.post("/{trial_id}/sets", status_code=201)
def add_set(shop: Shop, trial_id: TrialId, body: NewSet) -> Created:
    """Add a value of what is varied, or the solid baseline."""
    entry = sets.SetEntry(body.value, body.pieces, body.family, body.solid)
    return Created(id=sets.add_treatment(shop.file, trial_id, entry))


@router.delete("/{trial_id}/sets/{set_id}")
def remove_set(shop: Shop, trial_id: TrialId, set_id: RowId) -> plan.PlanView:
    """Remove a set from an open plan."""
    sets.remove_treatment(shop.file, trial_id, set_id)
    return plan.view_plan(shop.file, trial_id)


@router.post("/{trial_id}/boards", status_code=201)
def add_boards(shop: Shop, trial_id: TrialId, body: NewBoards) -> plan.PlanView:
    """Add boards to an open plan."""
    boards.add_boards(shop.file, trial_id, boards.BoardEntry(body.species, body.holds, body.count))
    return plan.view_plan(shop.file, trial_id)


@router.patch("/{trial_id}/boards/{board_id}")
def edit_board(shop: Shop, trial_id: TrialId, board_id: RowId, body: Edit) -> plan.PlanView:
    """Set a board's name, wood or number of places."""
    boards.edit_board(shop.file, trial_id, board_id, body.field, body.was, body.now)
    return plan.view_plan(shop.file, trial_id)


@router.delete("/{trial_id}/boards/{board_id}")
def remove_board(shop: Shop, trial_id: TrialId, board_id: RowId) -> plan.PlanView:
    """Remove a board from an open plan."""
    boards.remove_board(shop.file, trial_id, board_id)
    return plan.view_plan(shop.file, trial_id)


@router.post("/{trial_id}/settle")
def settle(shop: Shop, trial_id: TrialId) -> Said:
    """Settle the plan: every piece gets its label."""
    return Said(what=f"{plan.freeze_plan(shop.file, trial_id)} pieces have labels")


@router.post("/{trial_id}/reopen")
def reopen(shop: Shop, trial_id: TrialId) -> Said:
    """Reopen a settled plan."""
    plan.reopen_plan(shop.file, trial_id)
    return Said(what="The plan is open")


@router.post("/{trial_id}/remove")
def remove_trial(shop: Shop, trial_id: TrialId) -> Said:
    """Put a trial away."""
    plan.remove_trial(shop.file, trial_id)
    return Said(what="Removed")


@router.post("/{trial_id}/put-back")
def put_back(shop: Shop, trial_id: TrialId) -> Said:
    """Put a removed trial back."""
    plan.put_trial_back(shop.file, trial_id)
    return Said(what="Put back")


@router.post("/{trial_id}/undo")
def undo_change(shop: Shop, trial_id: TrialId) -> Said:
    """Take back the latest change."""
    return Said(what=undo.undo(shop.file, trial_id))


@router.post("/{trial_id}/redo")
def redo_change(shop: Shop, trial_id: TrialId) -> Said:
    """Bring back the change that was undone last."""
    return Said(what=undo.redo(shop.file, trial_id))


@router.get("/{trial_id}/history")
def get_history(shop: Shop, trial_id: TrialId) -> list[Change]:
    """Return the latest changes in words."""
    return undo.view_history(shop.file, trial_id)
