"""Open formats out: PDF, CSV, JSON. Every figure is read off a batch's one walk; nothing is reckoned here."""
