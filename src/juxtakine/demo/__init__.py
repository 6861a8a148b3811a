"""Made-up dancers, made-up music and the sample data: everything here has a known truth."""
