"""What will be sold: quantiles for every day, drink and size, by the method that was nearest over the weeks before."""
