"""The open bundle: what a zip of visits and machines holds, its manifest, and the bounds within which one is read.

A bundle is a zip (PKWARE APPNOTE 6.3): `manifest.json` names every other entry with its size and SHA-256 digest;
`machines/ID.json` and `visits/ID.json` hold rows by table, `photos/ID.jpg` and `logs/DIGEST` the files as they were
taken or sent. Rows refer to each other by identities, never by a database's own keys.
"""

import re
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

MOST_ENTRIES = 10_000
MOST_BYTES = 200_000_000
"""Entries, and bytes of all of them once inflated, of a bundle that comes in by a browser."""

VERSION = 1
ENTRY = re.compile(
    r"(machines|visits)/[0-9a-f]{32}\.json|workshop\.json|photos/[0-9a-f]{32}(-small)?\.jpg|logs/[0-9a-f]{64}"
    r"|tables/[a-z-]{1,40}\.csv|schemas/[a-z-]{1,40}\.json"
)
"""Names an entry may have beside the manifest; nothing in them climbs out of a folder."""

Digest = Annotated[str, Field(pattern="^[0-9a-f]{64}$")]
Identity = Annotated[str, Field(pattern="^[0-9a-f]{32}$")]
LeftOut = Literal["rider", "prices", "technicians"]
Scope = Literal["visit", "machine", "workshop"]


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Entry(_Part):
    """An entry: its name, its size [bytes] and its SHA-256 digest."""

    name: Annotated[str, Field(max_length=120)]
    size: Annotated[int, Field(ge=0, le=2**40)]
    sha256: Digest


class BundleManifest(_Part):
    """What a bundle is of, when and by which program it was made, what was left out, and every entry of it.

    `schema_version`, of the tables whose rows it holds.
    """

    format: Literal["jaxel-bundle"] = "jaxel-bundle"
    version: Literal[1] = 1
    of: Scope
    name: Annotated[str, Field(max_length=300)]
    made_at: Annotated[str, Field(max_length=40)]
    made_by: Annotated[str, Field(max_length=40)]
    schema_version: Annotated[int, Field(ge=1, le=100_000)]
    left_out: Annotated[list[LeftOut], Field(max_length=3)]
    entries: list[Entry]


Row = dict[str, Any]
Rows = dict[str, list[Row]]


class MachineBundle(_Part):
    """A machine with what outlives its visits: set-ups, belts, photos, stated limits, calibrations; rows by table."""

    format: Literal["jaxel-machine"] = "jaxel-machine"
    version: Literal[1] = 1
    id: Identity
    rows: Rows


class VisitBundle(_Part):
    """A signed visit, all of it: rows by table."""

    format: Literal["jaxel-visit"] = "jaxel-visit"
    version: Literal[1] = 1
    id: Identity
    rows: Rows


class WorkshopBundle(_Part):
    """What is of no machine: people, parts and their pieces, tools, wrenches, stamps, choices; rows by table."""

    format: Literal["jaxel-workshop"] = "jaxel-workshop"
    version: Literal[1] = 1
    rows: Rows


Document = MachineBundle | VisitBundle | WorkshopBundle
