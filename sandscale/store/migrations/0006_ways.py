"""A project's unit system and how it writes numbers; notes on the lines of build-ups; who is here now;
what rates come to unrounded."""

STATEMENTS = """
ALTER TABLE project ADD unit_system varchar(8) NOT NULL DEFAULT 'metric', ADD numbers varchar(8) NOT NULL DEFAULT '';
ALTER TABLE project ALTER unit_system DROP DEFAULT, ALTER numbers DROP DEFAULT;
ALTER TABLE membership ADD seen timestamp;
ALTER TABLE build_up ADD cost numeric(28, 12);
ALTER TABLE build_up_line ADD note text NOT NULL DEFAULT '';
ALTER TABLE build_up_line ALTER note DROP DEFAULT;
UPDATE change_entry SET before = before || '{"unit_system": "metric", "numbers": ""}'
    WHERE table_name = 'project' AND before IS NOT NULL;
UPDATE change_entry SET after = after || '{"unit_system": "metric", "numbers": ""}'
    WHERE table_name = 'project' AND after IS NOT NULL;
UPDATE change_entry SET before = before || '{"note": ""}' WHERE table_name = 'build_up_line' AND before IS NOT NULL;
UPDATE change_entry SET after = after || '{"note": ""}' WHERE table_name = 'build_up_line' AND after IS NOT NULL;
"""


def up(migrator, db):
    db.execute_sql(STATEMENTS)
