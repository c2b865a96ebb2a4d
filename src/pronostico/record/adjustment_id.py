"""The identifier of an adjustment within a record."""

from pronostico.record.models import SettingModel


def setting_id(setting: SettingModel) -> str | None:
    """The identifier of a setting; None where it came with a record that has none."""
    entered = setting.entered
    found = entered.get("id") if isinstance(entered, dict) else None
    return found if isinstance(found, str) else None
