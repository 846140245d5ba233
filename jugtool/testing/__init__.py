"""./jug test: every suite from one queue, the longest work first, in as many processes as there are cores."""
