"""HTTP: request and response models, blueprints, problem documents. No rule of the job here."""

from idle_harbor.processes import collect_seldom
from idle_harbor.runtime import prepare_engine

# Before anything here imports the core: else it would compile into a folder of its own.
prepare_engine()
# Its imports make a million objects that all stay.
collect_seldom()
