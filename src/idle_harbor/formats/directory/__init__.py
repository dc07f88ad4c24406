"""People and their groups from directory files: CSV, LDIF (RFC 2849) and SCIM JSON (RFC 7643)."""
