"""An engine as tables: CSV with a data package descriptor."""
