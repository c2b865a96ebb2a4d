"""The workshop's own network: the addresses of this machine on it, and certificates for them."""
