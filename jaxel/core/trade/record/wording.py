"""A recorded value as the log reads it."""

from typing import Any

from jaxel.core.words import q

LONGEST = 80
"""Of a text, so many characters are repeated."""


def value_in_words(value: Any, unit: str = "") -> str:
    """A recorded value as it is read, empty for nothing.

    >>> from jaxel.core.words import told
    >>> told(value_in_words(2310.0, "km")), value_in_words(None), value_in_words("bogs")
    ('2,310 km', '', '“bogs”')
    """
    if value is None or value == "":
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, dict):
        entries = {key.replace(".", " ").replace("_", " "): value_in_words(each) for key, each in value.items()}
        return "; ".join(f"{key}: {each}" for key, each in entries.items())
    if isinstance(value, list):
        return ", ".join(
            "–" if each is None else str(q(each, unit)) if isinstance(each, float) else str(each) for each in value
        )
    if isinstance(value, int | float):
        return str(q(value, unit))
    text = str(value)
    return f"“{text if len(text) <= LONGEST else text[: LONGEST - 1] + '…'}”"
