"""What is kept: the tables, their migrations, the change log and the queries over them."""
