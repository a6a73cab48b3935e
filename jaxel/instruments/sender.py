"""The client of a bench's device: it sends one reading to a running server, as any device may."""

import json
from http.client import HTTPException
from urllib.error import HTTPError, URLError
from urllib.request import Request, urlopen

from jaxel.core.errors import InvalidValue, Refused
from jaxel.core.formats.device_reading import DeviceReading

PATIENCE_S = 10.0


def send(reading: DeviceReading, token: str, url: str) -> str:
    """Send a reading with its bench's token; returns what the server took it as.

    Raises InvalidValue for what the server refuses, naming the field; Refused where no server answers at `url`.
    """
    if not token:
        raise InvalidValue("token", "is missing: it is made at the bench, on the Workshop page")
    if not url.startswith(("http://", "https://")):
        raise InvalidValue("url", "must begin with http:// or https://")
    body = json.dumps(reading.model_dump()).encode()
    headers = {"Content-Type": "application/json", "Authorization": f"Bearer {token}"}
    try:
        with urlopen(Request(f"{url.rstrip('/')}/api/readings", body, headers), timeout=PATIENCE_S) as answer:
            return str(json.load(answer)["said"])
    except HTTPError as error:
        try:
            refusal = json.load(error)["error"]
            field, reason = str(refusal["field"]), str(refusal["reason"])
        except (ValueError, KeyError, TypeError):
            raise Refused(f"the server at {url} answered {error.code}") from None
        raise InvalidValue(field, reason) from None
    except (URLError, HTTPException, OSError, ValueError, KeyError) as error:
        raise Refused(f"no server answers at {url}: {getattr(error, 'reason', error)}") from None
