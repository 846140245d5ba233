"""Drinks: a method in a cup, its sizes the cases of one walk; doses, layers, money and evenness are reads of it."""
