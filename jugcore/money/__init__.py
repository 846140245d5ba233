"""What a batch, a litre, a dose costs: ingredients, energy, hands, bottles, waste; and what drives it."""
