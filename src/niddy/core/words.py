"""Text as people write it: what every name, note and code must be before it reaches the record."""

from __future__ import annotations

from typing import Annotated

from pydantic import AfterValidator
from pydantic_core import PydanticCustomError


def _writable(text: str) -> str:
    if any(ord(letter) < 32 and letter not in "\n\t" for letter in text) or any(
        0xD800 <= ord(letter) <= 0xDFFF for letter in text
    ):
        raise PydanticCustomError("not_writable", "The text holds control characters")
    return text


Words = Annotated[str, AfterValidator(_writable)]
"""Text without control characters; lengths are each field's own."""
