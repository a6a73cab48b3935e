"""A machine's clutch package, number by number, and how each is known."""

import re

from jaxel.core.formats.paths import NoSuchField, unit_of, value_at
from jaxel.core.formats.setup.evidence import Evidence
from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.trade.kinds.kinds import Kinds
from jaxel.core.trade.setup.evidence import inputs
from jaxel.core.trade.setup.slots import slots
from jaxel.store.machine import limits
from jaxel.store.setup.revisions import Revision

from ..record.model import Model


class PackageRow(Model):
    """One line of the clutch package: what it is, its reading, and how that is known.

    `path`, where it may be put right; None where it comes with its part.
    """

    group: str
    label: str
    unit: str
    value: float
    path: str | None
    origin: str | None


GROUPS = {
    "belt": "Belt",
    "geometry": "Belt drive",
    "primary": "Primary",
    "secondary": "Secondary",
    "vehicle": "Vehicle",
}


def package_view(revision: Revision, stated: Kinds) -> list[PackageRow]:
    """The slots as hands meet them, then every other number that is known and how."""
    document = revision.document
    known = document.evidence
    rows = [
        PackageRow(
            group=slot.name,
            label=number.label,
            unit=number.unit,
            value=number.value,
            path=_plain(document, number.at) or _plain(document, f"{number.at}.mass_g"),
            origin=_origin(known, number.at),
        )
        for slot in slots(document, stated)
        for number in slot.numbers
        if number.typed and number.value is not None
    ]
    shown = {row.path for row in rows}
    block = document.model_copy(update={"evidence": known or {}})
    for each in inputs(block):
        block_of = each.path.split(".", maxsplit=1)[0]
        group = GROUPS.get(block_of)
        if stated.bare and block_of not in stated.sides:
            continue
        if group and each.value is not None and each.path not in shown and each.path not in limits.PATHS.values():
            rows.append(
                PackageRow(
                    group=group,
                    label=each.name.removeprefix("belt, "),
                    unit=unit_of(each.path),
                    value=each.value,
                    path=each.path,
                    origin=each.origin if known is not None else None,
                )
            )
    return rows


def _plain(document: SetupDocument, path: str) -> str | None:
    """A path that leads to a plain number; None where it does not."""
    try:
        value = value_at(document, path)
    except NoSuchField:
        return None
    return path if isinstance(value, int | float) else None


def _origin(known: Evidence | None, path: str) -> str | None:
    if known is None:
        return None
    found = known.get(path) or known.get(re.sub(r"\[\d+\]\.deg$", "", path))
    return found.origin if found else "typical"
