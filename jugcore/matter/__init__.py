"""What things are made of: components, substances, and amounts of them."""
