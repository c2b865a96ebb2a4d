"""Records written before some of their fields had a place of their own.

They kept them in `entered`, which is for what was typed. On the way in those fields go where they belong;
what has not their shape was written by another program and stays in `entered`.
"""

from typing import Any

from pydantic import TypeAdapter, ValidationError

from pronostico.record.visit import SettingModel, VisitModel

_VISIT_FIELDS = {
    "parts": "parts",
    "decisions": "decisions",
    "setting": "adjustment_choice",
    "shims": "shims_seen",
    "ticks": "ticks",
    "outcomes": "outcomes",
    "recheck": "recheck",
    "minutes": "minutes",
    "instruments": "traces",
    "school": "school",
    "confirmed": "positions_confirmed",
    "cover_off": "cover_off",
}
_SETTING_FIELDS = {
    "id": "id",
    "source": "shim_source",
    "moved_from": "moved_from",
    "reason": "reason",
    "preload_turns": "preload_turns",
}


def _adapters(
    model: type[VisitModel] | type[SettingModel], names: dict[str, str]
) -> dict[str, TypeAdapter[Any]]:
    return {
        name: TypeAdapter(model.model_fields[field].rebuild_annotation()) for name, field in names.items()
    }


_VISIT_ADAPTERS = _adapters(VisitModel, _VISIT_FIELDS)
_SETTING_ADAPTERS = _adapters(SettingModel, _SETTING_FIELDS)


def _fits(adapter: TypeAdapter[Any], value: object) -> bool:
    try:
        adapter.validate_python(value)
    except ValidationError:
        return False
    return True


def _moved(part: object, names: dict[str, str], adapters: dict[str, TypeAdapter[Any]]) -> object:
    entered = part.get("entered") if isinstance(part, dict) else None
    if not isinstance(part, dict) or not isinstance(entered, dict):
        return part
    found = {
        name: value
        for name, value in entered.items()
        if name in names and names[name] not in part and _fits(adapters[name], value)
    }
    if not found:
        return part
    rest = {name: value for name, value in entered.items() if name not in found}
    without = {name: value for name, value in part.items() if name != "entered"}
    kept = {"entered": rest} if rest else {}
    return {**without, **kept, **{names[name]: value for name, value in found.items()}}


def visit_of_today(document: object) -> object:
    """The JSON document of a visit with all its fields in their places; without settings of its own."""
    return _moved(document, _VISIT_FIELDS, _VISIT_ADAPTERS)


def setting_of_today(document: object) -> object:
    """The JSON document of a setting with all its fields in their places."""
    entered = document.get("entered") if isinstance(document, dict) else None
    if not isinstance(entered, dict) or not isinstance(entered.get("id"), str):
        return document
    return _moved(document, _SETTING_FIELDS, _SETTING_ADAPTERS)


def record_of_today(document: object) -> object:
    """The JSON document of a record with all its fields in their places."""
    visits = document.get("visits") if isinstance(document, dict) else None
    if not isinstance(document, dict) or not isinstance(visits, list):
        return document
    return {**document, "visits": [_with_settings(visit_of_today(visit)) for visit in visits]}


def _with_settings(visit: object) -> object:
    settings = visit.get("settings") if isinstance(visit, dict) else None
    if not isinstance(visit, dict) or not isinstance(settings, list):
        return visit
    return {**visit, "settings": [setting_of_today(setting) for setting in settings]}
