"""What a workshop has besides its engines: settings, blade sets, shims, timelines, calendar."""
