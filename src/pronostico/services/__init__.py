"""What the product can do, one module a capability: store in, core, store out."""
