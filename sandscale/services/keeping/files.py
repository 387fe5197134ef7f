"""Files of a project: whatever was brought in stays as it came."""

from __future__ import annotations

import hashlib

from ...store.models import StoredFile
from . import quotas

PACKAGE = "application/zip"  # the media type of a file of several


def keep_file(project_id: int, name: str, media_type: str, content: bytes) -> StoredFile:
    """Keep a file in a project. Outside the change log: a file never changes, and redo needs it after an
    undo.

    Raises:
        Full: the project has no room for it.
    """
    quotas.take_in(project_id, len(content))
    return StoredFile.create(
        project=project_id, name=name, media_type=media_type,
        sha256=hashlib.sha256(content).hexdigest(), content=content,
    )  # fmt: skip
