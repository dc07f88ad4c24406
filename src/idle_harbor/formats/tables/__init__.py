"""Tables (CSV, JSON) in and out: spells, samples, assigned hosts, price sheets."""
