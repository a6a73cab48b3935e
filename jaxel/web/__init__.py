"""The web application: one factory, one module per place or station, no SQL and no arithmetic."""

from .app import create_app

__all__ = ["create_app"]
