"""Looking around in a made-up workshop, beside one's own."""

from fastapi import APIRouter, HTTPException, Request

from pronostico.analysis.report_model import ReportModel
from pronostico.api.who_asks import network_of
from pronostico.services.demonstration import Beside

router = APIRouter(tags=["demonstration"])
_THIS_MACHINE = frozenset(("127.0.0.1", "::1", "localhost", "testclient"))


class DemonstrationOut(ReportModel):
    """Where the made-up workshop is."""

    address: str


def offered_to(request: Request) -> bool:
    """Whether whoever asks can look around: on this machine, where it is served, and not within it."""
    if request.app.state.made_up is not None:
        return False
    own = request.client is not None and request.client.host in _THIS_MACHINE
    return network_of(request.scope) is None or own


@router.post("/demonstration", status_code=201)
def post_demonstration(request: Request) -> DemonstrationOut:
    """Start the made-up workshop beside one's own, or find the one that was started; it takes seconds."""
    if not offered_to(request):
        raise HTTPException(409, "only from the machine itself; run 'pronostico demo' there")
    beside: Beside = request.app.state.beside
    return DemonstrationOut(address=beside.start(str(request.base_url)))
