"""Cases: opened, ticked, closed, and what they teach."""
