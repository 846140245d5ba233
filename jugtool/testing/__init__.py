"""./jug test: every suite from one queue, the longest work first, in one process more than there are cores."""
