"""Jaxel: the clutch bench that does the arithmetic."""

__version__ = "0.1.0"
