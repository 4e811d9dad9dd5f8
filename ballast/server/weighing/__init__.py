"""Scale tickets and the loads that follow from them."""
