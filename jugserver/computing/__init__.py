"""Heavy work in processes of its own, so that one person's solve never slows another's walk."""
