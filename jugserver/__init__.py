"""Oaken Jug's server: persistence, permissions, API. It holds no rule of the job."""
