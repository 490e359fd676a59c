"""What each rule says in the studios the tests build, whole and word by word, in ``golden/findings.json``.

``ENNEAD_GOLDEN=write`` before a run of all tests writes it down anew; read the difference before it is committed.
"""

import atexit
import hashlib
import json
import os
from collections.abc import Sequence
from pathlib import Path

from ennead.checks.finding import Finding
from ennead.files.interchange import to_json
from ennead.reports.sheet_of import sheet_of
from ennead.studio.document import Studio

_PATH = Path(__file__).resolve().parent / "golden" / "findings.json"
_WRITES = os.environ.get("ENNEAD_GOLDEN") == "write"
_written: dict[str, list[list[object]]] = {}
kept: dict[str, list[list[object]]] = json.loads(_PATH.read_text(encoding="utf-8")) if _PATH.exists() else {}


def _bare(form: object) -> object:
    """Return a schema without its words: what is left is the shape of the document."""
    if isinstance(form, dict):
        return {key: _bare(value) for key, value in form.items() if key != "description"}
    return [_bare(one) for one in form] if isinstance(form, list) else form


#: Studios are known by their JSON, so a document of another shape would find nothing to be compared with, and pass.
_SCHEMA = json.loads((_PATH.parents[2] / "docs" / "studio.schema.json").read_text(encoding="utf-8"))
SHAPE = hashlib.sha256(json.dumps(_bare(_SCHEMA), sort_keys=True).encode()).hexdigest()[:12]


def look(rule: str, studio: Studio, found: Sequence[Finding]) -> None:
    """Compare what a rule says with what was written down of that studio."""
    key = f"{rule} {hashlib.sha256(to_json(studio).encode()).hexdigest()[:12]}"
    said = json.loads(
        json.dumps(
            [
                [
                    f.severity,
                    sheet_of(f),
                    f.subject.key,
                    f.concerns,
                    f.message,
                    f.why,
                    [x.text for x in f.fixes],
                    f.working,
                ]
                for f in found
            ]
        )
    )
    if not _WRITES and kept.get("shape") != [[SHAPE]]:
        raise AssertionError(
            "the document's shape is another than when the findings were written down: write them anew, and read the difference"
        )
    if _WRITES:
        _written[key] = said
    elif key in kept and said != kept[key]:
        raise AssertionError(f"{rule} says otherwise than was written down:\n{said}\n{kept[key]}")


@atexit.register
def _write() -> None:
    if _written:
        _written["shape"] = [[SHAPE]]
        lines = [f"{json.dumps(key)}: {json.dumps(_written[key], ensure_ascii=False)}" for key in sorted(_written)]
        _PATH.write_text("{\n" + ",\n".join(lines) + "\n}\n", encoding="utf-8")
