"""A body's movement: landmarks over time, cleaned, and told free of camera and body size."""
