"""What the columns of an imported sheet were, by its heads."""

from sqlalchemy.orm import Session

from pronostico.store.tables import Json, SheetMappingRow


def sheet_mapping(session: Session, digest: str) -> Json | None:
    """What is remembered of a sheet with those heads."""
    row = session.get(SheetMappingRow, digest)
    return None if row is None else row.data


def put_sheet_mapping(session: Session, digest: str, data: Json) -> None:
    """Remember it, in place of what was."""
    row = session.get(SheetMappingRow, digest)
    if row is None:
        session.add(SheetMappingRow(digest=digest, data=data))
    else:
        row.data = data
