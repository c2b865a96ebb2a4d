"""The base of everything that leaves the product."""

from pydantic import BaseModel, ConfigDict


class ReportModel(BaseModel):
    """Base of what leaves: read off the core's dataclasses by field name."""

    model_config = ConfigDict(from_attributes=True, populate_by_name=True)
