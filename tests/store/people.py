"""Directories for the tests of the store."""

from idle_harbor.store.database import Database, queries
from idle_harbor.store.directory import Directory


def new_directory(database: Database) -> Directory:
    """A directory that no plan has."""
    with database.connection() as connection:
        number = queries.insert_directory(connection, name="people")
        queries.make_directory(connection, directory_id=number)
    return Directory(database, number)
