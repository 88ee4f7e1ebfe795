"""Models of the market: categories, niches, terms, listings, brands, sellers and their curves."""
