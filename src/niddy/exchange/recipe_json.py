"""A recipe as a file of its own: what two studios swap. Its materials come along by name and values.

The published JSON Schema is `docs/recipe.schema.json`, and at `/api/recipes/file/schema.json`.
"""

from __future__ import annotations

import json

from pydantic import ValidationError

from niddy.core.errors import Refused
from niddy.studio.recipes import RecipeFile
from niddy.studio.recipes.file import FORMAT, VERSION

MOST_BYTES = 500_000


def dump(file: RecipeFile) -> str:
    """The file as indented JSON."""
    return json.dumps(file.model_dump(mode="json"), indent=2, ensure_ascii=False)


def load(text: bytes) -> RecipeFile:
    """A recipe out of a file. Raises Refused under `file` for what is none, or is of a newer Niddy."""
    if len(text) > MOST_BYTES:
        raise Refused("file", f"{len(text) // 1000} kB is too much for a recipe", f"up to {MOST_BYTES // 1000} kB")
    try:
        document = json.loads(text.decode("utf-8-sig"))
    except (UnicodeDecodeError, ValueError, RecursionError):
        raise Refused("file", "this is no JSON file", "a recipe saved by Niddy as a file") from None
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise Refused("file", "this is no recipe of Niddy's", "a recipe saved by Niddy as a file")
    version = document.get("version")
    if isinstance(version, int) and version > VERSION:
        raise Refused("file", f"it is of a newer Niddy (form {version})", f"form {VERSION} or older")
    try:
        return RecipeFile.model_validate(document)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(map(str, first["loc"])) or "the file"
        raise Refused("file", f"it is damaged at {where}", "a recipe saved by Niddy as a file") from None


def schema() -> str:
    """The JSON Schema of such a file."""
    made = RecipeFile.model_json_schema()
    return json.dumps({"$schema": "https://json-schema.org/draft/2020-12/schema", **made}, indent=2) + "\n"
