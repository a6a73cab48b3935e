"""Faults as found, how each slot is known, and what a visit's scope asks for."""

from jaxel.core.trade.stranger.packages import packages

CAM = packages()["sled-cam-850"].document
