"""A batch: what was planned, what was entered at the hob, and what that makes of it."""
