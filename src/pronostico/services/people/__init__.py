"""Who works here: people and their roles, signing in, and who changed what."""
