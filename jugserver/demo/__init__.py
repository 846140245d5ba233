"""The invented business of the demo. Loaded in demo mode only, into its own database."""
