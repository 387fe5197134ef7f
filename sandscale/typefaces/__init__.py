"""The typefaces that ship with the application: papers are set in them, and a drawing's words are measured by
them, so that both come out the same on every machine."""

from pathlib import Path

SANS, BOLD, MONO, MONO_BOLD = "PlexSans", "PlexSansBold", "PlexMono", "PlexMonoBold"
FOLDER = Path(__file__).parent


def file_of(face: str) -> Path:
    """Where a typeface's file is."""
    return FOLDER / f"{face}.ttf"
