"""Shelves hold documents of several kinds; a project's working day."""

STATEMENTS = """
ALTER TABLE shelf_make_up RENAME TO shelf_document;
ALTER TABLE shelf_document ADD kind varchar(16) NOT NULL DEFAULT 'make-up';
ALTER TABLE shelf_document ALTER kind DROP DEFAULT;
DROP INDEX shelf_make_up_shelf_id_key_number;
CREATE UNIQUE INDEX shelf_document_shelf_id_kind_key_number ON shelf_document (shelf_id, kind, key, number);
ALTER INDEX shelf_make_up_shelf_id RENAME TO shelf_document_shelf_id;
ALTER INDEX shelf_make_up_person_id RENAME TO shelf_document_person_id;
ALTER TABLE shelf_document RENAME CONSTRAINT shelf_make_up_person_id_fkey TO shelf_document_person_id_fkey;
ALTER TABLE project ADD working_day double precision NOT NULL DEFAULT 8;
ALTER TABLE project ALTER working_day DROP DEFAULT;
UPDATE change_entry SET before = before || '{"working_day": 8}' WHERE table_name = 'project' AND before IS NOT NULL;
UPDATE change_entry SET after = after || '{"working_day": 8}' WHERE table_name = 'project' AND after IS NOT NULL;
"""


def up(migrator, db):
    db.execute_sql(STATEMENTS)
