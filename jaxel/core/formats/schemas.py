"""The JSON Schema of each document, from the models that read and write them."""

from typing import Any

from pydantic import BaseModel

from .device_reading import DeviceReading
from .plan.plan import PlanDocument
from .plan.stock import StockDocument
from .prediction import PredictionDocument
from .run.calibration import CalibrationDocument
from .run.header import LoggerDocument
from .run.runs import RunsDocument
from .run.summary import RunSummaryDocument
from .setup.setup import SetupDocument
from .setup.tested_spring import SpringDocument

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
}


def json_schema(name: str) -> dict[str, Any]:
    """Schema of a document by its format name: what may be written, catalogue forms included.

    >>> json_schema("jaxel-setup")["properties"]["version"]["const"]
    1

    Reference: JSON Schema, draft 2020-12.
    """
    schema = DOCUMENTS[name].model_json_schema(mode="validation")
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": f"{name}-1"} | schema
