"""Room in the pages of tables whose figures move by thousands: a row then stays in its page, and no index is
written."""

TABLES = (
    "item",
    "section",
    "build_up",
    "resource",
    "quantity_line",
    "quantity_part",
    "element",
    "dimension_line",
)


def up(migrator, db):
    for table in TABLES:
        db.execute_sql(f"ALTER TABLE {table} SET (fillfactor = 50)")
