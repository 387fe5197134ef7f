"""How many items a section holds, kept with its sums."""


def up(migrator, db):
    db.execute_sql("ALTER TABLE section ADD COLUMN items_held integer NOT NULL DEFAULT 0")
    db.execute_sql(
        "UPDATE section s SET items_held = (SELECT COUNT(*) FROM item i WHERE i.section_id = s.id)"
    )
