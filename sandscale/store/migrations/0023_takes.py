"""What rates take of all that has a price, kept beside them; of those there are it is made once it is asked for."""


def up(migrator, db):
    db.execute_sql("ALTER TABLE build_up ADD COLUMN takes text")
