"""Routes of the Compare station."""

from typing import Annotated

from fastapi import APIRouter, Depends
from starlette.responses import Response

from adhaero.api.body import Sent
from adhaero.api.common import RowId, TrialId
from adhaero.api.context import Shop, as_json
from adhaero.bench.compare import across, curves, dropping, exclusions, findings, looks, shares, spoken
from adhaero.bench.compare import view as compare_view
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.breaks_file import export_breaks
from adhaero.bench.compare.findings import Conclusion, Wishes, checks
from adhaero.bench.compare.method_sheet import export_method_sheet
from adhaero.bench.compare.pairs import PairWords
from adhaero.bench.compare.picture import export_picture
from adhaero.bench.compare.report import export_report
from adhaero.bench.compare.workbook import export_workbook
from adhaero.bench.facts.entry import Line, Why
from adhaero.files.report.page import write_report

router = APIRouter(tags=["compare"])


Asked = Annotated[Choice, Depends()]


Wished = Annotated[Wishes, Depends()]


@router.get("/api/trials/{trial_id}/compare", response_model=compare_view.CompareView)
def get_compare(
    shop: Shop,
    trial_id: TrialId,
    asked: Asked,
) -> Response:
    """Return the comparison of the breaks so far."""
    return as_json(compare_view.show_compare(shop.file, trial_id, asked))


@router.get("/api/trials/{trial_id}/slices", response_model=across.SlicesView)
def get_slices(shop: Shop, trial_id: TrialId, asked: Asked) -> Response:
    """Return the slices of a trial, each with its headline, and the answer across them."""
    return as_json(across.view_slices(shop.file, trial_id, asked))


@router.get("/api/trials/{trial_id}/across", response_model=across.AcrossView)
def get_across(shop: Shop, trial_id: TrialId, asked: Asked) -> Response:
    """Return what goes across the slices."""
    return as_json(across.view_across(shop.file, trial_id, asked))


@router.get("/api/trials/{trial_id}/shares", response_model=shares.SharesView)
def get_shares(shop: Shop, trial_id: TrialId, asked: Asked, of: Line = "") -> Response:
    """Return every set as a share: of the best, of a named set, of its own solid wood, of a typed line."""
    return as_json(shares.view_shares(shop.file, trial_id, asked, of))


@router.get("/api/trials/{trial_id}/spoken", response_model=spoken.Spoken)
def get_spoken(shop: Shop, trial_id: TrialId, asked: Asked) -> Response:
    """Return the answer as three sentences to be read out."""
    return as_json(spoken.view_spoken(shop.file, trial_id, asked))


@router.get("/api/trials/{trial_id}/pair", response_model=PairWords)
def get_pair(shop: Shop, trial_id: TrialId, asked: Asked, a: Line, b: Line) -> Response:
    """Return how one set stands to another."""
    return as_json(compare_view.ask_pair(shop.file, trial_id, asked, a, b))


@router.get("/api/trials/{trial_id}/findings", response_model=findings.FindingsView)
def get_findings(shop: Shop, trial_id: TrialId, asked: Asked, wishes: Wished) -> Response:
    """Return what else the breaks say."""
    return as_json(findings.view_findings(shop.file, trial_id, asked, wishes))


@router.get("/api/trials/{trial_id}/curves", response_model=list[curves.CurveChart])
def get_curves(shop: Shop, trial_id: TrialId, asked: Asked) -> Response:
    """Return strength along what is measured, a chart for each such thing."""
    return as_json(curves.view_curves(shop.file, trial_id, asked))


@router.get("/api/trials/{trial_id}/checks", response_model=checks.ChecksView)
def get_checks(shop: Shop, trial_id: TrialId, asked: Asked) -> Response:
    """Return how guess and conclusion stand, and what would change the verdict."""
    return as_json(checks.view_checks(shop.file, trial_id, asked))


@router.put("/api/trials/{trial_id}/conclusion", status_code=204)
def put_conclusion(shop: Shop, trial_id: TrialId, body: Sent[Conclusion]) -> None:
    """Write down a conclusion, to be checked."""
    findings.conclude(shop.file, trial_id, body.was, body.text)


@router.get(
    "/api/trials/{trial_id}/breaks.csv", response_class=Response, responses={200: {"content": {"text/csv": {}}}}
)
def download_breaks(
    shop: Shop,
    trial_id: TrialId,
    asked: Asked,
) -> Response:
    """Download the tidy breaks file."""
    tidy = export_breaks(shop.file, trial_id, asked)
    return Response(
        tidy.content,
        media_type="text/csv; charset=utf-8",
        headers={"Content-Disposition": f'attachment; filename="{tidy.name}"'},
    )


@router.get("/api/trials/{trial_id}/breaks-command")
def get_command(
    shop: Shop,
    trial_id: TrialId,
    asked: Asked,
) -> dict[str, str]:
    """Return the command that analyses the file as the screen does."""
    tidy = export_breaks(shop.file, trial_id, asked)
    return {"command": tidy.command, "factors_command": tidy.factors_command, "file": tidy.name}


_WORKBOOK = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


@router.get(
    "/api/trials/{trial_id}/workbook.xlsx", response_class=Response, responses={200: {"content": {_WORKBOOK: {}}}}
)
def download_workbook(shop: Shop, trial_id: TrialId, asked: Asked) -> Response:
    """Download pieces, sets and pairs as a workbook."""
    headers = {"Content-Disposition": f'attachment; filename="adhaero-trial-{trial_id}.xlsx"'}
    return Response(export_workbook(shop.file, trial_id, asked), media_type=_WORKBOOK, headers=headers)


@router.get(
    "/api/trials/{trial_id}/report.html", response_class=Response, responses={200: {"content": {"text/html": {}}}}
)
def download_report(shop: Shop, trial_id: TrialId, asked: Asked) -> Response:
    """Download the report: one page with everything inside."""
    headers = {"Content-Disposition": f'attachment; filename="adhaero-trial-{trial_id}-report.html"'}
    return Response(export_report(shop.file, trial_id, asked), media_type="text/html; charset=utf-8", headers=headers)


@router.get(
    "/api/trials/{trial_id}/picture.svg", response_class=Response, responses={200: {"content": {"image/svg+xml": {}}}}
)
def download_picture(shop: Shop, trial_id: TrialId, asked: Asked) -> Response:
    """Download the answer as a picture without numbers."""
    headers = {"Content-Disposition": f'attachment; filename="adhaero-trial-{trial_id}.svg"'}
    return Response(export_picture(shop.file, trial_id, asked), media_type="image/svg+xml", headers=headers)


@router.get(
    "/api/trials/{trial_id}/method.html", response_class=Response, responses={200: {"content": {"text/html": {}}}}
)
def download_method_sheet(shop: Shop, trial_id: TrialId) -> Response:
    """Download how to make the test of a trial again: one page with everything inside."""
    headers = {"Content-Disposition": f'attachment; filename="adhaero-trial-{trial_id}-method.html"'}
    page = write_report(export_method_sheet(shop.file, trial_id))
    return Response(page, media_type="text/html; charset=utf-8", headers=headers)


@router.post("/api/trials/{trial_id}/pieces/{piece_id}/exclude", status_code=204)
def exclude_piece(shop: Shop, trial_id: TrialId, piece_id: RowId, body: Sent[Why]) -> None:
    """Set a broken piece aside with a reason."""
    exclusions.exclude_piece(shop.file, trial_id, piece_id, body.reason)


@router.post("/api/trials/{trial_id}/pieces/{piece_id}/include", status_code=204)
def include_piece(shop: Shop, trial_id: TrialId, piece_id: RowId) -> None:
    """Let a piece that was set aside count again."""
    exclusions.include_piece(shop.file, trial_id, piece_id)


@router.get("/api/trials/{trial_id}/look")
def get_look(shop: Shop, trial_id: TrialId) -> looks.LookView:
    """Return whether a trial that planned to look may stop."""
    return looks.view_look(shop.file, trial_id)


@router.post("/api/trials/{trial_id}/stop")
def stop_by_rule(shop: Shop, trial_id: TrialId, body: Sent[looks.StopEntry]) -> int:
    """Leave the pieces that are not broken whole, because the answer is settled; return how many."""
    return looks.stop_by_rule(shop.file, trial_id, body)


@router.post("/api/trials/{trial_id}/drop")
def drop_set(shop: Shop, trial_id: TrialId, body: Sent[dropping.DropEntry]) -> int:
    """Leave the pieces of a set that are not broken whole, with the reason; return how many."""
    return dropping.drop_set(shop.file, trial_id, body)
