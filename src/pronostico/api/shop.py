"""The shop as a whole: its lanes, and what it sets for itself."""

from fastapi import APIRouter

from pronostico.api.deps import ReckonerDep, SessionDep, TodayDep, WriteSessionDep
from pronostico.api.models import ReckoningOut, ShopOut
from pronostico.services.lanes import shop_lanes
from pronostico.services.shop import ShopSettings, put_shop_settings, shop_settings

router = APIRouter(tags=["shop"])


@router.get("/shop")
def get_shop(session: SessionDep, reckoner: ReckonerDep, today: TodayDep) -> ShopOut:
    """Every engine a lane along time, from what is kept; what is not current is reckoned meanwhile."""
    shop = shop_lanes(session)
    if shop.stale:
        reckoner.ask(shop.stale)
    progress = reckoner.progress
    return ShopOut(
        today=today,
        lanes=shop.lanes,
        reckoning=None if progress is None else ReckoningOut.model_validate(progress),
        failed=sorted(reckoner.failed),
    )


@router.get("/shop-settings")
def get_shop_settings(session: SessionDep) -> ShopSettings:
    """The shop's rate and times."""
    return shop_settings(session)


@router.put("/shop-settings")
def put_settings(body: ShopSettings, session: WriteSessionDep) -> ShopSettings:
    """Set them anew."""
    put_shop_settings(session, body)
    return body
