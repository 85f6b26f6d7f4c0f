"""``dreizack publish``: what others rely on, written down: API description, shot schema, browser types."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

from .places import ROOT

DOCS = ROOT / "docs"
TYPES = ROOT / "web" / "src" / "api" / "schema.ts"


def publish(check: bool) -> int:
    """Write the files; with ``check`` only compare them, 1 where one has drifted."""
    drifted = []
    for path, text in published().items():
        if path.exists() and path.read_text(encoding="utf-8") == text:
            continue
        drifted.append(path)
        if not check:
            path.write_text(text, encoding="utf-8")
    for path in drifted:
        print(
            f"{path.relative_to(ROOT)}: {'has drifted; run ./dreizack publish' if check else 'written'}",
            file=sys.stderr,
        )
    return 1 if check and drifted else 0


def published() -> dict[Path, str]:
    """Every file and what it has to say."""
    api = _pretty(api_description())
    return {
        DOCS / "openapi.json": api,
        DOCS / "shot.schema.json": _pretty(shot_schema()),
        TYPES: _browser_types(api),
    }


def api_description() -> dict[str, Any]:
    """OpenAPI description of the server."""
    from ..api.app import create_app

    return create_app("", Path("."), web=None, looking=False).openapi()


def shot_schema() -> dict[str, Any]:
    """JSON Schema of a shot file: the shot and its schema version."""
    from ..core.document import Shot, schema_version

    schema = Shot.model_json_schema()
    schema["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    schema["title"] = "Dreizack shot file"
    schema["properties"] = {
        "dreizack_shot": {"const": schema_version(), "title": "schema version"},
        **schema["properties"],
    }
    schema["required"] = ["dreizack_shot", *schema.get("required", [])]
    return schema


def _browser_types(api: str) -> str:
    with tempfile.TemporaryDirectory() as folder:
        source, target = Path(folder) / "openapi.json", Path(folder) / "schema.ts"
        source.write_text(api, encoding="utf-8")
        subprocess.run(
            ["npx", "--no-install", "openapi-typescript", str(source), "-o", str(target)],
            cwd=ROOT / "web",
            check=True,
            capture_output=True,
        )
        return target.read_text(encoding="utf-8")


def _pretty(tree: Any) -> str:
    return json.dumps(tree, indent=1, ensure_ascii=False) + "\n"
