"""Ports on loopback."""

import socket

HOST = "127.0.0.1"
TRIES = 200


def free_port(preferred: int, taken: frozenset[int] = frozenset()) -> int:
    """`preferred`, or the next port after it that nobody listens on and that is not in `taken`."""
    for port in range(preferred, preferred + TRIES):
        if port not in taken and _is_free(port):
            return port
    raise OSError(f"no free port from {preferred} on")


def _is_free(port: int) -> bool:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((HOST, port))
        except OSError:
            return False
    return True


def shared(port: int) -> socket.socket:
    """A socket that listens beside others of ours on the same port."""
    made = socket.socket()
    made.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    made.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEPORT, 1)
    made.bind((HOST, port))
    return made


def listens(port: int) -> bool:
    with socket.socket() as probe:
        probe.settimeout(0.5)
        return probe.connect_ex((HOST, port)) == 0
