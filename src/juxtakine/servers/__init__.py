"""The servers of our own: MariaDB and Redis with their data under `var`, and the supervisor that keeps all alive."""
