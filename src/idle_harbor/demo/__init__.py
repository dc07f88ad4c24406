"""The made-up company of the demo."""
