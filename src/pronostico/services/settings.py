"""What the shop sets for itself: its rate, its currency, how long its hands take."""

from sqlalchemy.orm import Session

from pronostico.analysis.workshop_settings import ShopSettings
from pronostico.store.workshop import put_shop_data, shop_data


def shop_settings(session: Session) -> ShopSettings:
    """The settings as they stand; the defaults where nothing was set."""
    return ShopSettings.model_validate(shop_data(session))


def put_shop_settings(session: Session, settings: ShopSettings) -> None:
    """Set them anew."""
    put_shop_data(session, settings.model_dump(mode="json", exclude_defaults=True))
    session.commit()
