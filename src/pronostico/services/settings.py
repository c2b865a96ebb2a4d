"""What the workshop sets for itself: its rate, its currency, how long its hands take."""

from sqlalchemy.orm import Session

from pronostico.analysis.workshop_settings import WorkshopSettings
from pronostico.store.workshop import put_workshop_data, workshop_data


def workshop_settings(session: Session) -> WorkshopSettings:
    """The current settings; the defaults where nothing was set."""
    return WorkshopSettings.model_validate(workshop_data(session))


def put_workshop_settings(session: Session, settings: WorkshopSettings) -> None:
    """Set them anew."""
    put_workshop_data(session, settings.model_dump(mode="json", exclude_defaults=True))
    session.commit()
