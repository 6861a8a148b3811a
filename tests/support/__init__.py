"""What several tests stand on: made-up dancers with exact truth, clips of all kinds, a running stack, a browser."""
