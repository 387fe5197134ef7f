"""What a change moved is told once, by whoever wrote it, and kept a while for colleagues' tabs; their latest change is
found by an index."""

STATEMENTS = """
CREATE UNLOGGED TABLE telling (
    change_id integer PRIMARY KEY REFERENCES change ON DELETE CASCADE,
    body text NOT NULL, at timestamp NOT NULL);
CREATE INDEX change_project_id_id ON change (project_id, id);
DROP INDEX change_project_id;
"""


def up(migrator, db):
    db.execute_sql(STATEMENTS)
