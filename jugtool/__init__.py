"""What ./jug does: install what is missing, run PostgreSQL, serve, test, back up.

Standard library only, since it runs before anything is installed.
"""
