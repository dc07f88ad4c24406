"""PostgreSQL: numbered migrations, named queries, thin functions that return plain values."""
