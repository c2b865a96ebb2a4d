"""What the workshop sets for itself: its rate, its currency, how long its hands take."""

from sqlalchemy.orm import Session

from pronostico.analysis.workshop_settings import WorkshopSettings
from pronostico.services.merging import merged
from pronostico.store.workshop import put_workshop_data, workshop_data


def workshop_settings(session: Session) -> WorkshopSettings:
    """The current settings; the defaults where nothing was set."""
    return WorkshopSettings.model_validate(workshop_data(session))


def put_workshop_settings(
    session: Session, settings: WorkshopSettings, *, shown: WorkshopSettings | None = None
) -> WorkshopSettings:
    """Set them anew; returns what was stored.

    Args:
        shown: what the page showed before; None: it did not say.

    Raises:
        Stale: somebody else set one of them otherwise meanwhile.
    """
    fields = merged(
        _by_field(workshop_settings(session)),
        None if shown is None else _by_field(shown),
        _by_field(settings),
    )
    minutes = {name.removeprefix(_MINUTES): value for name, value in fields.items() if _MINUTES in name}
    plain = {name: value for name, value in fields.items() if _MINUTES not in name}
    kept = WorkshopSettings.model_validate({**plain, _MINUTES[:-1]: minutes})
    put_workshop_data(session, kept.model_dump(mode="json", exclude_defaults=True))
    session.commit()
    return kept


_MINUTES = "set_minutes_per_valve."


def _by_field(settings: WorkshopSettings) -> dict[str, object]:
    """Every figure under its own name, of each kind of adjustment too; where none is set, the default."""
    fields = settings.model_dump()
    per_valve = settings.times.set_per_valve
    del fields[_MINUTES[:-1]]
    return {**fields, **{f"{_MINUTES}{kind}": minutes for kind, minutes in per_valve.items()}}
