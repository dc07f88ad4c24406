"""Long work over HTTP."""
