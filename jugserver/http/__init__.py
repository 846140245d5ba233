"""What every room says over HTTP: problems, pages of lists, answers sent by and by."""
