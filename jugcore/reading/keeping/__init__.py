"""What a walk says of how long the product keeps."""
