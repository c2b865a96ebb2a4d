"""What the shop sets for itself."""

from fastapi import APIRouter

from pronostico.api.deps import SessionDep, WriteSessionDep
from pronostico.services.shop import ShopSettings, put_shop_settings, shop_settings

router = APIRouter(prefix="/shop-settings", tags=["shop"])


@router.get("")
def get_shop_settings(session: SessionDep) -> ShopSettings:
    """The shop's rate and times."""
    return shop_settings(session)


@router.put("")
def put_settings(body: ShopSettings, session: WriteSessionDep) -> ShopSettings:
    """Set them anew."""
    put_shop_settings(session, body)
    return body
