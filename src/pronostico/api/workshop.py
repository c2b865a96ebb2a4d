"""The shop as a whole: its lanes, and what it sets for itself."""

from fastapi import APIRouter, Response

from pronostico.analysis.workshop_settings import ShopSettings
from pronostico.api.deps import LanesDep, ReckonerDep, SessionDep, TodayDep, WriteSessionDep
from pronostico.api.models import ReckoningOut, ShopOut
from pronostico.services.settings import put_shop_settings, shop_settings

router = APIRouter(tags=["shop"])


@router.get("/shop", response_model=ShopOut)
def get_shop(lanes: LanesDep, reckoner: ReckonerDep, today: TodayDep) -> Response:
    """Every engine a lane along time, from what is kept; what is not current is reckoned meanwhile."""
    shop = lanes.now()
    if shop.stale:
        reckoner.ask(shop.stale)
    progress = reckoner.progress
    rest = ShopOut.model_construct(
        today=today,
        lanes=[],
        reckoning=None if progress is None else ReckoningOut.model_validate(progress),
        failed=sorted(reckoner.failed),
    )
    # The lanes are kept as the text that they leave as.
    head = rest.model_dump_json(exclude={"lanes"}).removesuffix("}")
    return Response(f'{head},"lanes":{shop.document}}}', media_type="application/json")


@router.get("/shop-settings")
def get_shop_settings(session: SessionDep) -> ShopSettings:
    """The shop's rate and times."""
    return shop_settings(session)


@router.put("/shop-settings")
def put_settings(body: ShopSettings, session: WriteSessionDep) -> ShopSettings:
    """Set them anew."""
    put_shop_settings(session, body)
    return body
