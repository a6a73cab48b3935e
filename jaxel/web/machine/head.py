"""A machine as a heading names it."""

from ..record.model import Model


class MachineHead(Model):
    id: int
    name: str
    kind: str
    rider: str
    model: str
