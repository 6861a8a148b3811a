"""Alembic's entry: one connection, one run."""

from alembic import context
from sqlalchemy import create_engine

from juxtakine.settings import settings
from juxtakine.store.models import Base

with create_engine(context.config.attributes.get("url") or settings().database_url).connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata, compare_type=True)
    with context.begin_transaction():
        context.run_migrations()
