"""Rates with mark-up or margin, and notes; lines by day, and of what is had once."""


def up(migrator, db):
    db.execute_sql("""ALTER TABLE build_up ADD COLUMN added numeric(9, 4) NOT NULL DEFAULT 0,
        ADD COLUMN added_on varchar(8) NOT NULL DEFAULT 'cost' CHECK (added_on IN ('cost', 'price')),
        ADD COLUMN note text NOT NULL DEFAULT ''""")
    for column in ("added", "added_on", "note"):
        db.execute_sql(f"ALTER TABLE build_up ALTER COLUMN {column} DROP DEFAULT")
    db.execute_sql("""ALTER TABLE build_up_line DROP CONSTRAINT build_up_line_basis_check,
        ADD CHECK (basis IN ('output', 'unit', 'day', 'fixed', 'percent'))""")
