"""Practice runs and the progress of learners."""
