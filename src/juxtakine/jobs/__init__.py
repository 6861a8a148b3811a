"""What takes longer than a request: prepare, track and compare, through Celery."""
