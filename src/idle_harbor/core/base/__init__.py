"""What every room stands on: compiled steps and their records, caches, stopping, units."""
