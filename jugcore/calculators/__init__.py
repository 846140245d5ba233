"""Small calculators of the trade, each working both ways and on the same walk; the catalogue is jugcore.calculators.catalogue."""
