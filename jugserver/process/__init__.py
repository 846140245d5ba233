"""What a process of the app has: its environment, connections, memory, and what it does by and by."""
