"""Long work: asked for in PostgreSQL, worked on part by part by processes of their own."""

from idle_harbor.runtime import prepare_engine

# Before anything here imports the core: else it would compile into a folder of its own.
prepare_engine()
