"""Alembic's entry: migrations run on the connection that the application hands in."""

from alembic import context

from pronostico.store.tables import Base

# SQLite cannot alter most of a column in place; batches copy the table instead.
context.configure(
    connection=context.config.attributes["connection"], target_metadata=Base.metadata, render_as_batch=True
)
with context.begin_transaction():
    context.run_migrations()
