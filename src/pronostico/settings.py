"""Where the application keeps its data and what it serves; from the environment, PRONOSTICO_..."""

from pathlib import Path

from pydantic_settings import BaseSettings, SettingsConfigDict

HOST = "127.0.0.1"
"""The only address that is served: the shop's data leave the machine by export alone."""

DEFAULT_PORT = 8341


class Settings(BaseSettings):
    """Settings of the application."""

    model_config = SettingsConfigDict(env_prefix="PRONOSTICO_")

    database: Path = Path.home() / ".local" / "share" / "pronostico" / "pronostico.sqlite"
    knowledge: Path = Path.home() / ".local" / "share" / "pronostico" / "knowledge"
    static: Path = Path(__file__).parent / "api" / "static"
