"""The Tuner over HTTP."""
