"""What speed is, as ratios in one run, and how well advice does for made-up makers."""
