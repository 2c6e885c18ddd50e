"""The demo study: the Mending Trades Survey in the Ostrel Isles. All invented."""
