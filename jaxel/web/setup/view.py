"""The set-up of a visit as its pages show it: slots as found and as left, what was changed, what the pictures need."""

import sqlite3
from collections.abc import Mapping

from jaxel.core.formats.setup.setup import SetupDocument
from jaxel.core.trade.kinds.kinds import Kinds
from jaxel.core.trade.setup.slot import Slot
from jaxel.core.trade.setup.slots import changes, slots
from jaxel.core.trade.shelf.part_specs import KitSpec
from jaxel.core.trade.stranger.origins import origins
from jaxel.store.setup import revisions
from jaxel.store.shelf import shelf
from jaxel.store.visit.intake import LOADS
from jaxel.store.visit.visits import Visit

from ..record.model import Model
from ..units import units


class NumberView(Model):
    """A number of a slot as found and as left, None where there is none.

    `changed` when they differ; `tried` while it differs from what was last recorded; `weighed`, of how many weights.
    """

    key: str
    label: str
    unit: str
    found: float | None
    left: float | None
    changed: bool
    tried: bool
    weighed: int
    options: list[str]


class SlotView(Model):
    """What is changed together at one place: its name, one step in words, and its numbers.

    `parts`, the slots it is made of, each with how what is in it is known, None where nobody said; `code`, a roller's
    size where it has one.
    """

    name: str
    parts: list["PartView"]
    step: str
    code: str
    numbers: list[NumberView]


class PartView(Model):
    """A slot by its key, and how what is in it is known; `said`, whether a hand said so at this visit; `stock`, the
    number of the part of the shelf that is in it."""

    key: str
    origin: str | None
    said: bool
    stock: str
    slot: str


class ChangeView(Model):
    """A change; both figures None for a part whose difference is not one number."""

    slot: str
    label: str
    unit: str
    found: float | None
    left: float | None


class RecordedChange(Model):
    revision_id: int
    reason: str
    created_at: str
    changes: list[ChangeView]


class Drawing(Model):
    """Lengths [mm] and angle the pictures are drawn from."""

    centre_distance_mm: float
    half_angle_deg: float
    hub_radius_mm: float
    closed_radius_mm: float
    belt_width_mm: float
    cord_depth_mm: float


class KitView(Model):
    """A kit on the tray or fitted at this visit: what it brings that fills no slot, and what its sheet says."""

    number: str
    besides: list[str]
    notes: list[str]


class SetupView(Model):
    slots: list[SlotView]
    found_slots: list[SlotView]
    changes: list[ChangeView]
    recorded: list[RecordedChange]
    draft: dict[str, float]
    found_draft: dict[str, float]
    reason: str
    kits: list[KitView]
    rev_limit_rpm: float
    drawing: Drawing


def setup_view(connection: sqlite3.Connection, visit: Visit) -> SetupView:
    found, left = visit.as_found(), visit.as_left()
    geometry = found.geometry
    recorded = [
        each
        for each in revisions.of_visit(connection, visit.id)
        if each.parent_id is not None and each.nature in ("change", "found")
    ]
    return SetupView(
        slots=_slots(found, left, visit.set_up.left_draft, visit.kinds, {}, _stock(connection, visit)),
        found_slots=_slots(found, found, visit.set_up.found_draft, visit.kinds, visit.set_up.found_origins, {}),
        changes=change_views(found, left, visit.kinds),
        recorded=[
            RecordedChange(
                revision_id=revision.id,
                reason=revision.reason,
                created_at=revision.created_at,
                changes=change_views(
                    revisions.get(connection, revision.parent_id).document, revision.document, visit.kinds
                ),
            )
            for revision in recorded
            if revision.parent_id is not None
        ],
        draft=dict(visit.set_up.left_draft),
        found_draft=dict(visit.set_up.found_draft),
        reason=visit.set_up.reason,
        kits=[
            KitView(number=kit.number, besides=list(kit.besides), notes=kit.spec.notes(kit.number))
            for kit in {each.id: each for each in (*visit.tray.values(), *visit.kits)}.values()
            if isinstance(kit.spec, KitSpec)
        ],
        rev_limit_rpm=found.engine.rev_limit_rpm,
        drawing=Drawing(
            centre_distance_mm=geometry.centre_distance_mm,
            half_angle_deg=geometry.sheave_half_angle_deg,
            hub_radius_mm=geometry.primary.hub_radius_mm,
            closed_radius_mm=geometry.secondary.closed_radius_mm,
            belt_width_mm=left.belt.top_width_mm,
            cord_depth_mm=left.belt.cord_depth_mm,
        ),
    )


def _slots(
    found: SetupDocument, left: SetupDocument, draft: Mapping[str, float], kinds: Kinds, said: Mapping[str, str],
    stock: Mapping[str, str],
) -> list[SlotView]:  # fmt: skip
    known = {**origins(left, kinds), **said}
    before = {number.key: number.value for slot in slots(found, kinds) for number in slot.numbers}
    differing = {change.key for change in changes(found, left, kinds)}
    shown: list[SlotView] = []
    for slot in slots(left, kinds):
        rows = [
            NumberView(
                key=number.key,
                label=number.label,
                unit=number.unit,
                found=before.get(number.key),
                left=number.value,
                changed=number.key in differing,
                tried=number.key in draft,
                weighed=number.weighed,
                options=list(number.options),
            )
            for number in slot.numbers
            if number.typed
        ]
        key = LOADS if slot.key.startswith("load:") else slot.key
        part = PartView(
            key=key, origin=known.get(slot.key), said=slot.key in said, stock=stock.get(slot.key, ""), slot=slot.key
        )
        if shown and shown[-1].name == slot.name:
            shown[-1].numbers.extend(rows)
            if slot.key not in {each.slot for each in shown[-1].parts}:
                shown[-1].parts.append(part)
        else:
            shown.append(
                SlotView(
                    name=slot.name, parts=[part], step=slot.step_words(units()), code=_code(slot, left), numbers=rows
                )
            )
    return shown


def _code(slot: Slot, document: SetupDocument) -> str:
    """The size code of the rollers in a slot, which comes before their mass."""
    profile = document.primary.profile
    size = document.primary.weights.size or getattr(profile, "size", None)
    return f"size {size}" if slot.key == "arms" and size else ""


def _stock(connection: sqlite3.Connection, visit: Visit) -> dict[str, str]:
    """The parts of the shelf in the slots as left, by number."""
    held = shelf.held_by(connection, visit.set_up.left_revision_id)
    known = shelf.stocked(connection) if held else {}
    changed = {each.slot.key for each in changes(visit.left, visit.as_left(), visit.kinds)}
    fitted = {slot: known[part].number for slot, (part, _) in held.items() if part in known and slot not in changed}
    return fitted | {slot: part.number for slot, part in visit.tray.items()}


def change_views(found: SetupDocument, left: SetupDocument, kinds: Kinds) -> list[ChangeView]:
    """What differs between two set-ups, as the pages show it."""
    return [
        ChangeView(slot=change.slot.name, label=change.label, unit=change.unit, found=change.found, left=change.left)
        for change in changes(found, left, kinds)
    ]
