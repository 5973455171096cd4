"""A recipe, a base or a process as a file of its own, with its materials by name and values: what two studios swap.

The published JSON Schemas are in `docs/`, and at `/api/swap/schemas/recipe.json` and its like.
"""

from __future__ import annotations

import json

from pydantic import ValidationError

from niddy.core.errors import Refused
from niddy.studio.swap import FILES, File, SwapKind
from niddy.studio.swapped import VERSION

MOST_BYTES = 500_000
ACCEPTED = "a recipe, base or process saved by Niddy as a file, or a picture of its card"


def dump(file: File) -> str:
    """The file as indented JSON."""
    return json.dumps(file.model_dump(mode="json"), indent=2, ensure_ascii=False)


def _no_number(said: str) -> float:
    """NaN and infinity, which JSON has no words for. Raises ValueError."""
    raise ValueError(said)


def _check_writable(value: object) -> None:
    """Hold that no text in a document is more than text. Raises ValueError."""
    if isinstance(value, str):
        if any((ord(letter) < 32 and letter not in "\n\t") or 0xD800 <= ord(letter) < 0xE000 for letter in value):
            raise ValueError("control characters")
    elif isinstance(value, dict):
        for key, one in value.items():
            _check_writable(key)
            _check_writable(one)
    elif isinstance(value, list):
        for one in value:
            _check_writable(one)


def load(text: bytes) -> File:
    """What a file holds. Raises Refused under `file` for what is none, or is of a newer Niddy."""
    if len(text) > MOST_BYTES:
        raise Refused("file", f"{len(text) // 1000} kB is too much", f"up to {MOST_BYTES // 1000} kB")
    try:
        document = json.loads(text.decode("utf-8-sig"), parse_constant=_no_number)
        _check_writable(document)
    except (UnicodeDecodeError, ValueError, RecursionError):
        raise Refused("file", "this is not a JSON file", ACCEPTED) from None
    form = document.get("format") if isinstance(document, dict) else None
    kind = next((kind for kind in SwapKind if form == f"niddy-{kind}"), None)
    if kind is None:
        raise Refused("file", "this is not a recipe, base or process from Niddy", ACCEPTED)
    version = document.get("version")
    if isinstance(version, int) and version > VERSION:
        raise Refused("file", f"it is of a newer Niddy (form {version})", f"form {VERSION} or older")
    try:
        return FILES[kind].model_validate(document)
    except ValidationError as error:
        where = ".".join(map(str, error.errors()[0]["loc"])) or "the file"
        raise Refused("file", f"it is damaged at {where}", ACCEPTED) from None


def schema(kind: SwapKind) -> str:
    """The JSON Schema of such a file."""
    made = FILES[kind].model_json_schema()
    return json.dumps({"$schema": "https://json-schema.org/draft/2020-12/schema", **made}, indent=2) + "\n"
