"""Write the OpenAPI document: ``python -m sandscale.web.document docs/openapi.json``."""

from __future__ import annotations

import json
import sys
from pathlib import Path

from .app import api_document

if __name__ == "__main__":
    Path(sys.argv[1]).write_text(
        json.dumps(api_document(), indent=1, sort_keys=True, ensure_ascii=False) + "\n"
    )
