"""The open JSON formats: read with their errors, turned into core objects, and written again."""

from .prediction import PredictionDocument, prediction_document, write_prediction
from .reading import FILE_LIMIT, read_json, refuse
from .setup import ConditionsPart, SetupDocument, TargetPart, check_width, read_setup, write_setup
from .slots import Change, Slot, changes, slots, with_slots

__all__ = [
    "FILE_LIMIT",
    "Change",
    "ConditionsPart",
    "PredictionDocument",
    "SetupDocument",
    "Slot",
    "TargetPart",
    "changes",
    "check_width",
    "prediction_document",
    "read_json",
    "read_setup",
    "refuse",
    "slots",
    "with_slots",
    "write_prediction",
    "write_setup",
]
