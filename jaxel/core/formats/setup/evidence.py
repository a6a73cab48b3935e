"""The `evidence` block of a setup document: where its numbers came from, and how sure each is."""

from typing import Annotated, Literal

from pydantic import Field

from jaxel.core.errors import InvalidValue

from ..paths import NoSuchField, value_at
from ..reading import Part

Origin = Literal["measured", "stamped", "manual", "rider says", "typical", "fitted", "unknown"]


class EvidencePart(Part):
    """Where one field's value came from; `sd` in the field's unit, of a table relative to its values.

    Without `sd` the origin's own is taken; a fitted value has none but its own.
    """

    origin: Origin
    sd: Annotated[float, Field(gt=0, le=100_000)] | None = None


Evidence = dict[Annotated[str, Field(min_length=1, max_length=120)], EvidencePart]
"""A map from a field's path to where it came from."""


def _is_table(found: object) -> bool:
    """Whether it is a table of one quantity over another: the swing, the path, the torque, the angles, the holes."""
    rows = found if isinstance(found, list) else []
    fields = type(rows[0]).model_fields if rows else {}
    return any(name in fields for name in ("travel_mm", "rpm", "pretwist_deg"))


def check_evidence(evidence: Evidence, document: Part) -> None:
    """Refuse evidence for what is no number or table of the document, and a fitted value without a deviation."""
    for path, each in evidence.items():
        try:
            found = value_at(document, path)
        except NoSuchField:
            found = None
        plain = isinstance(found, (int, float)) and not isinstance(found, bool)
        if not plain and not _is_table(found):
            raise InvalidValue(f"evidence.{path}", "is no field of this set-up that holds a number or a table")
        if each.origin == "fitted" and each.sd is None:
            raise InvalidValue(f"evidence.{path}.sd", "is missing: a fitted value needs its own")
