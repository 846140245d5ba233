"""Settings, the API's assembly, and how problems are answered."""
