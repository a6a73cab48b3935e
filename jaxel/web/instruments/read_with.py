"""With which device a page's write was read: the header `Jaxel-Instrument`."""

from flask import Flask, request

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.device_reading import DEVICES
from jaxel.store.edits import read_with


def register(app: Flask) -> None:
    """Tell the store of each request's device; raises InvalidValue (field `instrument`) for one that is none."""

    @app.before_request
    def of_request() -> None:
        device = request.headers.get("Jaxel-Instrument")
        if device is not None and device not in DEVICES:
            raise InvalidValue("instrument", "is no device of a bench")
        read_with(device)
