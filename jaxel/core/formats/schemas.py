"""The JSON Schema of everything that is written here, from the models and tables that read and write it."""

from typing import Any

from pydantic import BaseModel

from .bundle import BundleManifest, MachineBundle, VisitBundle, WorkshopBundle
from .device_reading import DeviceReading
from .due_event import DueEvent
from .plan.plan import PlanDocument
from .plan.stock import StockDocument
from .prediction import PredictionDocument
from .run.calibration import CalibrationDocument
from .run.header import LoggerDocument
from .run.runs import RunsDocument
from .run.summary import RunSummaryDocument
from .setup.setup import SetupDocument
from .setup.tested_spring import SpringDocument, SpringReport
from .tables import TABLES

DOCUMENTS: dict[str, type[BaseModel]] = {
    "jaxel-setup": SetupDocument,
    "jaxel-prediction": PredictionDocument,
    "jaxel-spring": SpringDocument,
    "jaxel-runs": RunsDocument,
    "jaxel-calibration": CalibrationDocument,
    "jaxel-run-summary": RunSummaryDocument,
    "jaxel-logger": LoggerDocument,
    "jaxel-stock": StockDocument,
    "jaxel-plan": PlanDocument,
    "jaxel-reading": DeviceReading,
    "jaxel-spring-report": SpringReport,
    "jaxel-due": DueEvent,
    "jaxel-bundle": BundleManifest,
    "jaxel-machine": MachineBundle,
    "jaxel-visit": VisitBundle,
    "jaxel-workshop": WorkshopBundle,
}

NAMES = sorted({*DOCUMENTS, *TABLES})
"""The name of every format."""


def json_schema(name: str) -> dict[str, Any]:
    """Schema of a format by its name: of a document what may be written, catalogue forms included; of a table its rows.

    >>> json_schema("jaxel-setup")["properties"]["version"]["const"]
    1

    Reference: JSON Schema, draft 2020-12.
    """
    if name in TABLES:
        return TABLES[name].schema()
    schema = DOCUMENTS[name].model_json_schema(mode="validation")
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": f"{name}-1"} | schema
