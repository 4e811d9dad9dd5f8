"""Places and what a weather service says of them."""
