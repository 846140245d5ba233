"""The run sheet: what to weigh, when to stop, what was measured, what is off plan, and what is asked."""
