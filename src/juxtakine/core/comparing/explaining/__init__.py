"""Explaining: findings, one cause before many symptoms, phrases, and the order to redrill them."""
