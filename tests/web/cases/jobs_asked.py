"""Every address of work off the request, asked as a page asks it: sheets, bundles; and the log and health beside it."""

from collections.abc import Callable
from typing import Any

from jaxel.web.workshop.bundles import PART

Ask = Callable[..., Any]


def ended(ask: Ask, begun: Any, path: str) -> Any:
    """A job's answer once it has ended."""
    found = begun.json
    while found["state"] in ("waiting", "working"):
        found = ask("GET", path.format(job=found["job"]), 200).json
    return found


def a_sheet(ask: Ask, text: str) -> Any:
    """Take a stock sheet in; answers with its report."""
    begun = ask("POST", "/api/sheets", 202, json={"text": text})
    found = ended(ask, begun, "/api/sheets/{job}")
    ask("POST", f"/api/sheets/{found['job']}/cancel", 200, json={})
    ask("GET", f"/api/sheets/{found['job']}", 200)
    ask("GET", f"/api/sheets/{'0' * 32}", 404)
    return found


def bundles(ask: Ask, of: str, key: int) -> None:
    """Make a bundle, fetch it, send it back, look at it and take it in."""
    made = ended(ask, ask("POST", "/api/bundles/made", 202, json={"of": of, "id": key}), "/api/bundles/made/{job}")
    ask("POST", "/api/bundles/made", 422, json={"of": "planet", "id": 1})
    ask("GET", f"/api/bundles/made/{made['job']}", 200)
    ask("POST", f"/api/bundles/made/{made['job']}/cancel", 200, json={})
    ask("GET", f"/api/bundles/made/{'0' * 32}/file", 404)
    data = b"PK no bundle"
    held = ask("POST", "/api/bundles/coming", 201, json={"size": len(data)}).json["held"]
    ask("POST", "/api/bundles/coming", 422, json={"size": 10**12})
    part = f"/api/bundles/coming/{held}/parts/0"
    ask("POST", f"/api/bundles/coming/{held}/look", 422, json={})
    ask("PUT", part, 415, data=data, content_type="application/json")
    ask("PUT", part, 422, data=data[:5], content_type="application/octet-stream")
    ask("PUT", part, 200, data=data, content_type="application/octet-stream")
    assert len(data) < PART
    looked = ended(ask, ask("POST", f"/api/bundles/coming/{held}/look", 202, json={}), "/api/bundles/coming/{job}")
    assert looked["refused"]["field"] == "bundle", looked
    ask("POST", f"/api/bundles/coming/{looked['job']}/cancel", 200, json={})
    ask("GET", f"/api/bundles/coming/{looked['job']}", 200)
    ended(ask, ask("POST", f"/api/bundles/coming/{held}/take", 202, json={}), "/api/bundles/coming/{job}")
    ask("POST", f"/api/bundles/coming/{'0' * 32}/take", 404, json={})
    assert a_sheet(ask, "colour")["refused"]["field"] == "sheet"
    the_log_and_health(ask)


def the_log_and_health(ask: Ask) -> None:
    """What is told of the server and of what was changed."""
    ask("GET", "/api/health", 200)
    ask("GET", "/api/workshop/log", 200)
    ask("GET", "/api/workshop/log?of=part&by=bench&find=A&limit=2", 200)
    ask("GET", "/api/workshop/log?of=planet", 422)
    ask("GET", "/api/workshop/log.csv", 403, headers={"Host": "elsewhere.example"})
