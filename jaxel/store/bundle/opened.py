"""A bundle opened: every bound is checked before it is relied on, and every byte is counted as it is inflated."""

import io
import json
import stat
import struct
import zipfile
import zlib
from collections.abc import Iterator
from dataclasses import dataclass
from hashlib import sha256
from typing import IO, Any, TypeVar

from pydantic import BaseModel

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.bundle import (
    ENTRY,
    MOST_BYTES,
    MOST_ENTRIES,
    BundleManifest,
    MachineBundle,
    VisitBundle,
    WorkshopBundle,
)
from jaxel.core.formats.reading import check_version, validate
from jaxel.core.words import well_marked

MANIFEST = "manifest.json"
MANIFEST_BYTES = 5_000_000
PIECE = 1 << 16

_DAMAGE = (zipfile.BadZipFile, zlib.error, OSError, EOFError, RuntimeError, ValueError)
"""What reading a zip raises for bytes that are none, or are packed in a way not read here: NotImplementedError is a
RuntimeError."""

Model = TypeVar("Model", bound=BaseModel)


@dataclass(frozen=True)
class Bounds:
    """How many entries, and how many bytes of all of them, one may have: no bound where None."""

    entries: int | None = MOST_ENTRIES
    bytes: int | None = MOST_BYTES


BY_BROWSER = Bounds()
BY_COMMAND = Bounds(None, None)


class Opened:
    """A bundle whose entries are all there, as its manifest says, and nothing else."""

    def __init__(self, archive: zipfile.ZipFile, manifest: BundleManifest):
        self.manifest = manifest
        self._archive, self._sizes = archive, {each.name: each for each in manifest.entries}
        self.total = max(1, sum(each.size for each in manifest.entries))
        self._read = 0

    @property
    def share(self) -> float:
        """How much of it has been read, of its bytes unpacked."""
        return min(1.0, self._read / self.total)

    def size(self, name: str) -> int:
        """The bytes of an entry, unpacked."""
        return self._sizes[name].size

    def read(self, name: str) -> bytes:
        """The bytes of an entry; raises InvalidValue (field `bundle`) where they are not what the manifest says."""
        entry = self._sizes.get(name)
        if entry is None:
            raise InvalidValue("bundle", f"{name} is missing")
        data = _inflated(self._archive, name, entry.size)
        if len(data) != entry.size or sha256(data).hexdigest() != entry.sha256:
            raise InvalidValue("bundle", f"{name} is not what the manifest says: its digest differs")
        self._read += entry.size
        return data

    def has(self, name: str) -> bool:
        """Whether there is such an entry."""
        return name in self._sizes

    def workshop(self) -> WorkshopBundle:
        """What is of no machine."""
        return self._document("workshop.json", WorkshopBundle)

    def machines(self) -> Iterator[MachineBundle]:
        """The machines, one after the other."""
        return (self._document(each, MachineBundle) for each in self._sizes if each.startswith("machines/"))

    def visits(self) -> Iterator[VisitBundle]:
        """The visits, one after the other."""
        return (self._document(each, VisitBundle) for each in self._sizes if each.startswith("visits/"))

    def _document(self, name: str, model: type[Model]) -> Model:
        value = _json(self.read(name), name)
        check_version(value, str(model.model_fields["format"].default))
        found = validate(model, value)
        identity = getattr(found, "id", None)
        if identity is not None and name.rpartition("/")[2] != f"{identity}.json":
            raise InvalidValue("bundle", f"{name} says it is {identity}")
        return found


def opened(file: IO[bytes], bounds: Bounds = BY_BROWSER) -> Opened:
    """A bundle, its entries counted, named and measured before any but its manifest is inflated.

    Raises InvalidValue (field `bundle`) for what is no bundle, or is more than `bounds`.
    """
    _count(file, bounds)
    try:
        archive = zipfile.ZipFile(file)
        _check_entries(archive, bounds)
        value = _json(_inflated(archive, MANIFEST, MANIFEST_BYTES), MANIFEST)
    except _DAMAGE as error:
        raise InvalidValue("bundle", f"cannot be read: {error}") from None
    check_version(value, "jaxel-bundle")
    manifest = validate(BundleManifest, value)
    listed = [each.name for each in manifest.entries]
    there = {each.filename: each.file_size for each in archive.infolist()}
    if len(set(listed)) != len(listed) or set(listed) | {MANIFEST} != set(there):
        raise InvalidValue("bundle", "holds other files than its manifest lists")
    if any(there[each.name] != each.size for each in manifest.entries):
        raise InvalidValue("bundle", "says of a file another size than its manifest")
    return Opened(archive, manifest)


END, END_BYTES, MOST_COMMENT = b"PK\x05\x06", 22, 65_535
"""The record a zip ends with (APPNOTE 4.3.16): it says how many entries there are, and how long their list is."""


def _count(file: IO[bytes], bounds: Bounds) -> None:
    """Refuse too many entries by the record at the end, before a list of them is made."""
    size = file.seek(0, io.SEEK_END)
    file.seek(max(0, size - END_BYTES - MOST_COMMENT))
    tail = file.read()
    at = tail.rfind(END)
    if at < 0 or len(tail) < at + END_BYTES:
        raise InvalidValue("bundle", "is no zip file, or is cut off")
    entries, listed = struct.unpack_from("<HI", tail, at + 10)
    if bounds.entries is None:
        return
    # A larger zip says 0xFFFF here, which is more than any taken.
    if entries > bounds.entries or listed > bounds.entries * 200:
        raise InvalidValue("bundle", f"has more than {bounds.entries:,} entries")


def _check_entries(archive: zipfile.ZipFile, bounds: Bounds) -> None:
    seen: set[str] = set()
    total = 0
    for each in archive.infolist():
        if bounds.entries is not None and len(seen) > bounds.entries:
            raise InvalidValue("bundle", f"has more than {bounds.entries:,} entries")
        if each.filename in seen:
            raise InvalidValue("bundle", f"holds {each.filename[:80]} twice")
        if each.filename != MANIFEST and not ENTRY.fullmatch(each.filename):
            raise InvalidValue("bundle", f"holds a file that is none of a bundle: {each.filename[:80]}")
        if each.flag_bits & 1:
            raise InvalidValue("bundle", f"is locked: {each.filename} has a password")
        if stat.S_ISLNK(each.external_attr >> 16):
            raise InvalidValue("bundle", f"holds a link: {each.filename}")
        seen.add(each.filename)
        total += each.file_size
        if bounds.bytes is not None and total > bounds.bytes:
            raise InvalidValue("bundle", f"is larger than {bounds.bytes // 1_000_000} MB")
    if MANIFEST not in seen:
        raise InvalidValue("bundle", "has no manifest: it is no bundle")


def _inflated(archive: zipfile.ZipFile, name: str, most: int) -> bytes:
    """An entry's bytes, counted while they swell: what says it is small and is not is stopped."""
    data = bytearray()
    try:
        with archive.open(name) as entry:
            while piece := entry.read(PIECE):
                data += piece
                if len(data) > most:
                    raise InvalidValue("bundle", f"{name} is larger than it says")
    except InvalidValue:
        raise
    except _DAMAGE as error:
        raise InvalidValue("bundle", f"{name} cannot be read: {error}") from None
    return bytes(data)


def _json(data: bytes, name: str) -> dict[str, Any]:
    """One JSON object, no field twice, no NaN, no half characters; raises InvalidValue.

    Unlike a document's, its texts may hold quantities as the store keeps them, to be told in anybody's units.
    """
    try:
        value = json.loads(data.decode(), object_pairs_hook=_no_twins)
        json.dumps(value, allow_nan=False, ensure_ascii=False).encode()
    except RecursionError:
        raise InvalidValue("bundle", f"{name} is nested too deeply to be read") from None
    except ValueError as error:
        raise InvalidValue("bundle", f"{name} is no JSON: {str(error)[:120]}") from None
    if not isinstance(value, dict):
        raise InvalidValue("bundle", f"{name} is no JSON object")
    if not all(well_marked(each) for each in _texts(value)):
        raise InvalidValue("bundle", f"{name} holds a character that is no text: U+E000 or U+E001")
    return value


def _texts(value: Any) -> Iterator[str]:
    """Every text in a value, names of fields too."""
    if isinstance(value, str):
        yield value
    elif isinstance(value, dict):
        for key, each in value.items():
            yield key
            yield from _texts(each)
    elif isinstance(value, list):
        for each in value:
            yield from _texts(each)


def _no_twins(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found = dict(pairs)
    if len(found) < len(pairs):
        raise ValueError("a field stands there twice")
    return found
