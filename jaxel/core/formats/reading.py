"""From bytes to a validated document: every refusal names the field and the reason."""

import json
from typing import Any, TypeVar

from pydantic import BaseModel, ConfigDict, Discriminator, ValidationError

from jaxel.core.errors import InvalidValue
from jaxel.core.units import said
from jaxel.core.words import CLOSE, OPEN

FILE_LIMIT = 1_000_000
"""Largest document read [bytes]; a setup is about 4,000."""


class Part(BaseModel):
    """A piece of a document: its fields exactly, numbers as numbers, no NaN or infinity."""

    model_config = ConfigDict(defer_build=True, extra="forbid", strict=True, allow_inf_nan=False, frozen=True)


Document = TypeVar("Document", bound=BaseModel)


def read_json(data: bytes) -> dict[str, Any]:
    """Parse one JSON object.

    Raises InvalidValue (field `document`) for anything else: too large, not text, not JSON, a field twice.

    >>> read_json(b'{"format": "jaxel-setup"}')
    {'format': 'jaxel-setup'}

    Reference: RFC 8259.
    """
    if len(data) > FILE_LIMIT:
        raise InvalidValue("document", f"is larger than {FILE_LIMIT // 1000:,} kB")
    if not data.strip():
        raise InvalidValue("document", "is empty")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise InvalidValue("document", "is not a text file: it must be JSON in UTF-8") from None
    try:
        value = json.loads(text, object_pairs_hook=_no_twins)
        plain = json.dumps(value, ensure_ascii=False)
        plain.encode()
    except UnicodeEncodeError:
        raise InvalidValue("document", "holds half a character: a lone surrogate is no text") from None
    except json.JSONDecodeError as error:
        raise InvalidValue("document", f"is not JSON: {error.msg} at line {error.lineno}") from None
    except (RecursionError, ValueError) as error:
        if isinstance(error, InvalidValue):
            raise
        raise InvalidValue("document", "is not JSON a machine could be described in") from None
    if OPEN in plain or CLOSE in plain:
        raise InvalidValue("document", "holds a character that is no text: U+E000 or U+E001")
    if not isinstance(value, dict):
        raise InvalidValue("document", "must be one JSON object")
    return value


def _no_twins(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found = dict(pairs)
    if len(found) < len(pairs):
        names = [name for name, _ in pairs]
        twin = next(name for name in names if names.count(name) > 1)
        raise InvalidValue(twin[:60], "stands twice in the same object")
    return found


def validate(model: type[Document], value: object) -> Document:
    """Check a parsed value against a document's model; raises InvalidValue for its first fault."""
    try:
        return model.model_validate(value)
    except ValidationError as error:
        raise refuse(error) from None


def check_version(value: dict[str, Any], name: str, version: int = 1) -> None:
    """Refuse a document of another format or version before its fields are looked at."""
    if "format" not in value:
        raise InvalidValue("format", f"is missing: this must be a “{name}” document")
    if value["format"] != name:
        raise InvalidValue("format", f"must be “{name}”")
    if "version" not in value:
        raise InvalidValue("version", "is missing")
    if value["version"] != version or isinstance(value["version"], bool):
        raise InvalidValue("version", f"must be {version}: this program reads no other")


def refuse(error: ValidationError) -> InvalidValue:
    """The first fault of a failed validation as a field's path and a reason in plain words."""
    fault = error.errors(include_url=False)[0]
    inner = fault.get("ctx", {}).get("error")
    where = _path(fault["loc"])
    if isinstance(inner, InvalidValue):
        field = ".".join(part for part in (where, inner.field) if part)
        return InvalidValue(field or "document", inner.reason)
    return InvalidValue(where or "document", _reason(fault["type"], fault.get("ctx", {}), fault["msg"]))


def form(**tokens: str) -> Discriminator:
    """Tells the forms of a part apart by a field only one of them has; `else_` names the fitted form."""
    fitted = tokens.pop("else_")

    def pick(value: Any) -> str:
        if isinstance(value, dict):
            return next((form for field, form in tokens.items() if field in value), fitted)
        return fitted

    return Discriminator(pick)


_TAGS = {"swing-arm", "ramp-roller", "ramp-angles", "bare", "total", "forces", "rated", "measured", "table", "stamp"}
"""Names of the forms a part may take: pydantic puts the form tried into the path, a reader knows none."""


def _path(where: tuple[int | str, ...]) -> str:
    path = ""
    for part in where:
        if isinstance(part, int):
            path += f"[{part}]"
        elif part not in _TAGS or path.endswith(".holes"):
            path += f".{part}" if path else part[:60]
    return path


def _reason(kind: str, detail: dict[str, Any], message: str) -> str:
    bound = next((said(detail[name]) for name in ("gt", "ge", "lt", "le") if name in detail), "")
    words = {
        "missing": "is missing",
        "extra_forbidden": "is not a field known here",
        "float_type": "must be a number",
        "float_parsing": "must be a number",
        "int_type": "must be a whole number",
        "int_from_float": "must be a whole number",
        "int_parsing": "must be a whole number",
        "finite_number": "must be a finite number",
        "bool_type": "must be true or false",
        "string_type": "must be text",
        "list_type": "must be a list",
        "model_type": "must be an object",
        "model_attributes_type": "must be an object",
        "dict_type": "must be an object",
        "greater_than": f"must be above {bound}",
        "greater_than_equal": f"must be at least {bound}",
        "less_than": f"must be below {bound}",
        "less_than_equal": f"must be at most {bound}",
        "too_short": f"must hold at least {detail.get('min_length')} entries",
        "too_long": f"must hold at most {detail.get('max_length')} entries",
        "string_too_short": "must not be empty",
        "string_too_long": f"must have at most {detail.get('max_length')} characters",
        "union_tag_not_found": "must say its kind",
        "union_tag_invalid": f"must have the kind {detail.get('expected_tags')}",
        "literal_error": f"must be {detail.get('expected')}",
    }
    return words.get(kind) or message[:1].lower() + message[1:]
