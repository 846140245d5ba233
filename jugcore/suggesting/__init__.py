"""What could be done to reach a reading: edits that were solved and walked."""
