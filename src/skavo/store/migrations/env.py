"""Alembic's environment: runs on the connection that Store.migrate hands over."""

from alembic import context

from skavo.store.models import Base

connection = context.config.attributes["connection"]
# One transaction for all of it: a server that is killed in the middle finds the tables as they were.
context.configure(connection=connection, target_metadata=Base.metadata, render_as_batch=True, transactional_ddl=True)
with context.begin_transaction():
    context.run_migrations()
