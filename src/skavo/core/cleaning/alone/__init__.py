"""A cleaning plan without Skavo: the standard library, plain rows, the rules' own engine. Copied whole into a package."""
