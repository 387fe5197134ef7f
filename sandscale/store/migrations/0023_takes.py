"""What rates take of all that has a price, kept with them; of those there are, it is made once asked for."""


def up(migrator, db):
    db.execute_sql("ALTER TABLE build_up ADD COLUMN takes text")
