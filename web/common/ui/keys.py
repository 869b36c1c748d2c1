"""The keys of rows, as they come in addresses and forms."""

LARGEST_KEY = 2**63 - 1  # what a BIGINT holds
