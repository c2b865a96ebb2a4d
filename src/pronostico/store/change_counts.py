"""The database itself counts every change of an engine, so that no way of writing leaves a result stale."""

from alembic import op

NOT_COUNTED = "SELECT set_config('pronostico.counting', 'off', true)"
"""On PostgreSQL: from here on the counts are the caller's own affair, to the end of the transaction or until
`COUNTED`."""
COUNTED = "SELECT set_config('pronostico.counting', 'on', true)"


def count_changes(table: str, engine_of_row: str, *, of_columns: str | None = None) -> None:
    """Within a migration: have every new, changed and removed row of a table raise its engine's count.

    Args:
        engine_of_row: SQL for the engine's id, with `{row}` for the row.
        of_columns: only a change of these counts, and neither a new nor a removed row.
    """
    events = (
        (("insert", "NEW"), ("update", "NEW"), ("delete", "OLD"))
        if of_columns is None
        else (("update", "NEW"),)
    )
    for event, row in events:
        of = "" if of_columns is None else f" OF {of_columns}"
        raised = f"UPDATE engines SET changed = changed + 1 WHERE id = {engine_of_row.format(row=row)};"
        name = f"{table}_{event}_changes"
        when = f"AFTER {event.upper()}{of} ON {table}"
        if op.get_bind().dialect.name == "postgresql":
            op.execute(
                f"CREATE FUNCTION {name}() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN "
                "IF current_setting('pronostico.counting', true) IS DISTINCT FROM 'off' THEN "
                f"{raised} END IF; RETURN NULL; END $$"
            )
            op.execute(f"CREATE TRIGGER {name} {when} FOR EACH ROW EXECUTE FUNCTION {name}()")
        else:
            op.execute(f"CREATE TRIGGER {name} {when} BEGIN {raised} END")
