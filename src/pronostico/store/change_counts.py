"""The database itself notes every change, so that no way of writing leaves something stale.

Of an engine it counts the changes: a result was computed at a count. A visit gets another stamp, a random
number that no other state of any visit has.
"""

from collections.abc import Sequence

from alembic import op

NOT_COUNTED = "SELECT set_config('pronostico.counting', 'off', true)"
"""On PostgreSQL: from here on counts and stamps are the caller's own affair, to the end of the transaction or
until `COUNTED`."""
COUNTED = "SELECT set_config('pronostico.counting', 'on', true)"


def _on_change(table: str, suffix: str, statement: str, events: Sequence[tuple[str, str]], of: str) -> None:
    """Have a statement run after changes of a table's rows.

    Args:
        events: each with the name under which the row is known in it; `{row}` in the statement.
        of: columns without a change of which an update is none; empty: any.
    """
    for event, row in events:
        name = f"{table}_{event}_{suffix}"
        columns = f" OF {of}" if of and event == "update" else ""
        when = f"AFTER {event.upper()}{columns} ON {table}"
        done = f"{statement.format(row=row)};"
        if op.get_bind().dialect.name == "postgresql":
            op.execute(
                f"CREATE FUNCTION {name}() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN "
                "IF current_setting('pronostico.counting', true) IS DISTINCT FROM 'off' THEN "
                f"{done} END IF; RETURN NULL; END $$"
            )
            op.execute(f"CREATE TRIGGER {name} {when} FOR EACH ROW EXECUTE FUNCTION {name}()")
        else:
            op.execute(f"CREATE TRIGGER {name} {when} BEGIN {done} END")


def random_stamp() -> str:
    """Within a migration: SQL for a number that no other row is likely ever to get."""
    # 53 bits are what a PostgreSQL random number has.
    on_server = op.get_bind().dialect.name == "postgresql"
    return "(random() * 9007199254740992)::bigint" if on_server else "random()"


_UPDATE = (("update", "NEW"),)
_ANY = (("insert", "NEW"), *_UPDATE, ("delete", "OLD"))


def count_changes(table: str, engine_of_row: str, *, of_columns: str = "") -> None:
    """Within a migration: have every new, changed and removed row of a table raise its engine's count.

    Args:
        engine_of_row: SQL for the engine's id, with `{row}` for the row.
        of_columns: only a change of these counts, and neither a new nor a removed row.
    """
    raised = f"UPDATE engines SET changed = changed + 1 WHERE id = {engine_of_row}"
    _on_change(table, "changes", raised, _UPDATE if of_columns else _ANY, of_columns)


def count_leaving(table: str) -> None:
    """Within a migration: have a row that goes to another engine raise the count of the one it leaves."""
    raised = "UPDATE engines SET changed = changed + 1 WHERE id = {row}.engine_id"
    _on_change(table, "leaving", raised, (("update", "OLD"),), "engine_id")


def stamp_changes(table: str, visit_of_row: str, *, of_columns: str = "") -> None:
    """Within a migration: have every new, changed and removed row of a table stamp its visit anew.

    Args:
        visit_of_row: SQL for the visit's key, with `{row}` for the row.
        of_columns: only a change of these counts, and neither a new nor a removed row.
    """
    stamped = f"UPDATE visits SET stamp = {random_stamp()} WHERE pk = {visit_of_row}"
    _on_change(table, "stamps", stamped, _UPDATE if of_columns else _ANY, of_columns)
