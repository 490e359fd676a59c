"""The JSON Schema of a profile, for people and programs that write one."""

from typing import Any

from ennead.files.forms import adapter
from ennead.studio.profile import Profile


def profile_schema() -> dict[str, Any]:
    """Return the schema of a profile with its rows written out; a file need not give the id.

    References
    ----------
    JSON Schema, draft 2020-12.
    """
    schema = adapter(Profile).json_schema()
    del schema["properties"]["id"]
    schema["required"].remove("id")
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **schema, "title": "Ennead profile"}
