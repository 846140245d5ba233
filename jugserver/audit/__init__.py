"""Who changed what, and from where: kept by triggers of the database, read by a lead."""
