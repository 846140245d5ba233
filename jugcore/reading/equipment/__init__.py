"""Which pots and tools a walk takes, how often each is filled, and what they carry over."""
