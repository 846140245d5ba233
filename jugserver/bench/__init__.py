"""What is asked of a document on the bench, without keeping anything."""
