"""Settings of a visit, one by one; each carries the identifier that the page gave it."""

from sqlalchemy.orm import Session

from pronostico.record.visit import SettingModel
from pronostico.store.records import dump
from pronostico.store.rows import visit_row
from pronostico.store.tables import SettingRow


def put_setting(session: Session, engine_id: str, visit_id: str, setting: SettingModel) -> bool:
    """Note a setting, in place of the one of the same identifier; False where there is no such visit."""
    row = visit_row(session, engine_id, visit_id)
    if row is None:
        return False
    for known in row.settings:
        if known.setting_id == setting.id:
            known.data = dump(setting, "id")
            return True
    position = len(row.settings)
    row.settings.append(SettingRow(position=position, setting_id=setting.id, data=dump(setting, "id")))
    return True


def remove_setting(session: Session, engine_id: str, visit_id: str, identifier: str) -> bool:
    """Take a setting back; False where there is none of that identifier."""
    row = visit_row(session, engine_id, visit_id)
    for known in row.settings if row is not None else []:
        if known.setting_id == identifier:
            session.delete(known)
            return True
    return False
