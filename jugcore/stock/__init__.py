"""What is made and stands somewhere: containers, what became of each, what is on hand, what must go first."""
