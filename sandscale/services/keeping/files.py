"""Files of a project: whatever was brought in stays as it came, and what its pages were read to hold."""

from __future__ import annotations

import hashlib

from ...store.database import database
from ...store.models import PageContent, StoredFile
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


_FROM_TWINS = """
INSERT INTO page_content (file_id, page, segments, words, said, drawn, layers, segment_layers)
SELECT DISTINCT ON (p.page) f.id, p.page, p.segments, p.words, p.said, p.drawn, p.layers, p.segment_layers
FROM stored_file f JOIN stored_file twin ON twin.sha256 = f.sha256 JOIN page_content p ON p.file_id = twin.id
WHERE f.id = %s ON CONFLICT DO NOTHING"""


def take_what_is_known(file_id: int) -> int:
    """Keep what was read of the same file before, such as in the project that one was copied from; gives how
    many of its pages are read."""
    database.execute_sql(_FROM_TWINS, (file_id,))
    return int(PageContent.select().where(PageContent.file == file_id).count())
