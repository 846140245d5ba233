"""Small sums of the trade, each worked out both ways and on the same walk; the catalogue is jugcore.calculators.catalogue."""
