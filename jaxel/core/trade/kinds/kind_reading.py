"""Reading a kind's file: what it takes from the kind it is like and from what is common; whether it holds together."""

import copy
from collections.abc import Mapping
from itertools import product
from typing import Any

from jaxel.core.errors import InvalidValue
from jaxel.core.formats.reading import validate

from .kind_file import CONDITIONAL, KindFile

_KEYED = ("part", "item", "fastener", "loose", "matched", "variant", "way", "slot", "procedure")
_OF_A_PART = ("item", "fastener", "loose", "matched")
_STATED = (
    "slot", "variant", "way", "housing", "part", "item", "remedy", "lubrication", "fastener", "loose", "matched",
    "differs", "procedure",
)  # fmt: skip


def _key(entry: Mapping[str, Any]) -> str:
    """What an entry is known by: its key, or the common one's that it uses."""
    return str(entry.get("key") or entry.get("use", ""))


def read_kind(files: Mapping[str, Mapping[str, Any]], common: Mapping[str, Mapping[str, Any]], key: str) -> KindFile:
    """One kind from the parsed files of all: with what it takes from the kind it is `like` and from what is common.

    Parameters: `common`, of `item` and `way`, what a kind's file may use by its name. A list is added to; an entry with
    a key that is there already takes its place, a new one goes `after` or `before` the one it names, and `without`
    leaves items out, or fasteners as `fastener.KEY`. Raises InvalidValue, the field with its kind before it, for what
    the schema refuses, an unknown kind or item, and a key that stands twice.
    """
    try:
        value = _whole(files, key, seen=())
        for name in ("item", "way"):
            value[name] = [_with_common(name, each, common[name]) for each in value.get(name, [])]
        kind = validate(KindFile, value)
        _check_whole(kind)
    except InvalidValue as error:
        raise InvalidValue(f"{key}: {error.field}", error.reason) from None
    return kind


def _whole(files: Mapping[str, Mapping[str, Any]], key: str, seen: tuple[str, ...]) -> dict[str, Any]:
    if key not in files:
        raise InvalidValue("like", f"{key} is no kind of clutch known here")
    if key in seen:
        raise InvalidValue("like", "goes round in a circle")
    own = copy.deepcopy(dict(files[key]))
    _fill_origins(own, str(own.get("origin", "")))
    like, without = own.pop("like", None), own.pop("without", [])
    if like is None:
        if without:
            raise InvalidValue("without", "needs a kind that this one is like")
        return own
    value = _whole(files, like, (*seen, key))
    for left_out in without:
        group, _, name = left_out.rpartition(".")
        held = value.get(group or "item", ())
        kept = [each for each in held if _key(each) != name]
        if len(kept) == len(held):
            raise InvalidValue(
                "without", f"{left_out} is no item of {like}" if not group else f"{left_out} is not in {like}"
            )
        value[group or "item"] = kept
    for name, mine in own.items():
        if name in _KEYED:
            value[name] = _placed(value.get(name, []), mine)
        elif isinstance(mine, list):
            value[name] = [*value.get(name, []), *mine]
        else:
            value[name] = mine
    return value


def _placed(there: list[dict[str, Any]], mine: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Entries with a kind's own in their places; several of one key, each of other variants, stand together."""
    result = list(there)
    own_keys: list[str] = []
    for entry in mine:
        own = dict(entry)
        after, before = own.pop("after", None), own.pop("before", None)
        keys = [_key(each) for each in result]
        key = _key(own)
        if key in own_keys and not (after or before):
            result.insert(len(keys) - keys[::-1].index(key), own)
        elif key in keys and key not in own_keys:
            place = keys.index(key)
            result = [each for each in result if _key(each) != key]
            result.insert(place, own)
        elif (neighbour := after or before) is None:
            result.append(own)
        elif neighbour not in keys:
            raise InvalidValue("after" if after else "before", f"{neighbour} is not there")
        else:
            last = len(keys) - 1 - keys[::-1].index(neighbour)
            result.insert(last + 1 if after else keys.index(neighbour), own)
        own_keys.append(key)
    return result


def _with_common(name: str, entry: Mapping[str, Any], common: Mapping[str, Any]) -> dict[str, Any]:
    """An entry with what it takes from a common one: its own words win, its own remedies and grades are added."""
    own = dict(entry)
    use = own.pop("use", None)
    if use is None:
        return own
    if use not in common:
        raise InvalidValue(f"{name}.use", f"{use} is no common {name}")
    shared = copy.deepcopy(common[use])
    _fill_origins(shared, own["origin"])
    whole = {**shared, **own}
    if "remedy" in shared or "remedy" in own:
        whole["remedy"] = [*shared.get("remedy", []), *own.get("remedy", [])]
    if "grades" in shared:
        whole["grades"] = {**shared["grades"], **own.get("grades", {})}
    return whole


def _fill_origins(value: Any, origin: str) -> None:
    """Give every statement under a value the origin it does not name."""
    for name, inner in value.items():
        # What is no table where one belongs is left for the schema to refuse.
        if name in ("measure", "compound") and isinstance(inner, dict):
            inner.setdefault("origin", origin)
        elif name in _STATED and isinstance(inner, list):
            for each in filter(lambda each: isinstance(each, dict), inner):
                each.setdefault("origin", origin)
                _fill_origins(each, each["origin"])


def _check_whole(kind: KindFile) -> None:
    """Refuse a kind one of whose variants does not hold together: a key twice, a part or a cause that is not there."""
    variants = {each.key: each for each in kind.variant}
    parts = {each.key for each in kind.part}
    for each in kind.variant:
        if each.part not in parts:
            raise InvalidValue(f"variant.{each.key}.part", f"{each.part} is no part of it")
    for name in CONDITIONAL:
        for entry in getattr(kind, name):
            for variant, allowed in entry.when.items():
                known = variants[variant].answers if variant in variants else ()
                if strange := next((each for each in allowed if each not in known), None):
                    raise InvalidValue(f"{name}.when.{variant}", f"{strange} is no answer to a question of it")
    _check_procedures(kind)
    for answers in product(*(each.answers for each in kind.variant)):
        _check_variant(kind.of_variants(dict(zip(variants, answers, strict=True))))


def _check_procedures(kind: KindFile) -> None:
    """A procedure may name what only some variants have, never what none has."""
    parts, items = {each.key for each in kind.part}, {each.key for each in kind.item}
    for job in kind.procedure:
        for name, keys, known, what in (("opens", job.opens, parts, "part"), ("looks", job.looks, items, "item")):
            if strange := next((key for key in keys if key not in known), None):
                raise InvalidValue(f"procedure.{job.key}.{name}", f"{strange} is no {what} of it")


def _check_variant(kind: KindFile) -> None:
    for name in _KEYED:
        keys = [each.key for each in getattr(kind, name)]
        if twin := next((key for key in keys if keys.count(key) > 1), None):
            raise InvalidValue(f"{name}.{twin}", "stands twice")
    parts = {each.key for each in kind.part}
    for name in _OF_A_PART:
        for each in getattr(kind, name):
            if each.part not in parts:
                raise InvalidValue(f"{name}.{each.key}.part", f"{each.part} is no part of it")
    for name in ("slot", "way"):
        for each in getattr(kind, name):
            if strange := next((part for part in each.opens if part not in parts), None):
                raise InvalidValue(f"{name}.{each.key}.opens", f"{strange} is no part of it")
    for lubricated in kind.lubrication:
        if strange := next((part for part in lubricated.parts if part not in parts), None):
            raise InvalidValue("lubrication.parts", f"{strange} is no part of it")
    _check_items(kind)


def _check_items(kind: KindFile) -> None:
    items = {item.key for item in kind.item}
    for item in kind.item:
        for cause in item.causes:
            if cause not in items or cause == item.key:
                raise InvalidValue(f"item.{item.key}.causes", f"{cause} is no other item of it")
        for eaten in item.eats:
            if eaten not in items or eaten == item.key:
                raise InvalidValue(f"item.{item.key}.eats", f"{eaten} is no other item of it")
        remedies = [each.key for each in item.remedy]
        if len(set(remedies)) < len(remedies):
            raise InvalidValue(f"item.{item.key}.remedy", "holds one key twice")
