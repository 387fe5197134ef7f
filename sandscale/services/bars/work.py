"""What jobs do for the bars: write their files."""

from __future__ import annotations

from ..keeping.jobs import Work, file_of
from .documents import bars_bvbs, bars_csv_file, bars_pdf, bars_workbook

KINDS: dict[str, Work] = {
    "bars_pdf": file_of(bars_pdf),
    "bars_xlsx": file_of(bars_workbook),
    "bars_csv": file_of(bars_csv_file),
    "bars_bvbs": file_of(bars_bvbs),
}
