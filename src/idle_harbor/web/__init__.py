"""HTTP: request and response models, blueprints, problem documents. No rule of the job here."""

from idle_harbor.processes import imports_begin
from idle_harbor.runtime import prepare_engine

# Before anything here imports the core: else it would compile into a folder of its own.
prepare_engine()
imports_begin()
