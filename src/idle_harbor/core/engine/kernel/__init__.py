"""The compiled event loop: one record and its tables, laid out in ``world``."""
