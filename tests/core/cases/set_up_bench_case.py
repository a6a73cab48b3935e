"""The set-up bench's core: the picture at every place, answers in words, what to measure next, scores, what-if."""

from jaxel.core.trade.setup.slots import with_numbers
from tests.examples import example, read

SLED = read(example("mountain-sled"))
LIGHTER = with_numbers(SLED, {"arm_mass_g": 58.0})
