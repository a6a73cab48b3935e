"""The base of every body and answer of the web: built when it is first needed, its schema made once a class."""

from typing import Any, ClassVar

from pydantic import BaseModel, ConfigDict


class Model(BaseModel):
    """A model whose validator is built at its first use and whose JSON Schema is kept: importing it costs nothing."""

    model_config = ConfigDict(defer_build=True)

    _schemas: ClassVar[dict[Any, dict[str, Any]]]

    @classmethod
    def model_json_schema(cls, *args: Any, **kwargs: Any) -> dict[str, Any]:
        """The schema of this class, made at the first call."""
        made = cls.__dict__.get("_schemas")
        if made is None:
            made = cls._schemas = {}
        key = (args, tuple(sorted(kwargs.items())))
        if key not in made:
            made[key] = super().model_json_schema(*args, **kwargs)
        schema: dict[str, Any] = made[key]
        return schema


class Request(Model):
    """A request's body: unknown fields refused, numbers finite."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
