"""Has changes of tables kept by triggers of the database, with who made them."""
