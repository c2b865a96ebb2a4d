"""The web interface: one router a noun, thin; errors as problem+json; the built pages."""
