"""Long work: asked for in PostgreSQL, worked on part by part by processes of their own."""
