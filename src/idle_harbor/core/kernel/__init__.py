"""The compiled event loop: flat arrays in, flat arrays out. Column names are in ``layout``."""
