"""What was entered at the hob: entries, how each arrived, what stands of them, and the chain that keeps them."""
