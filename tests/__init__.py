"""Jaxel's tests: `python -m tests` runs every one, the core's doctests among them."""
