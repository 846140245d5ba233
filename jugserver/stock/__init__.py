"""What is made and stands somewhere: containers, the ledger of what became of them, places."""
