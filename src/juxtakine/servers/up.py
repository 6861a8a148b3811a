"""Starts everything and stays until Ctrl-C: `python -m juxtakine.servers.up [--demo]`.

A run that is alive is left alone and its address printed; what a killed one left behind is stopped and cleared first.
"""

import argparse
import fcntl
import json
import os
import secrets
import signal
import subprocess
import sys
import time
import urllib.request
from contextlib import suppress
from pathlib import Path
from typing import IO

from juxtakine.servers import family
from juxtakine.servers.backing import Backing, ServerError
from juxtakine.servers.ports import HOST, free_port
from juxtakine.settings import Settings, settings

HEALTHY_S = 90
BIN = Path(sys.executable).parent


def main() -> int:
    parser = argparse.ArgumentParser(prog="up")
    parser.add_argument("--demo", action="store_true", help="load the demo data first")
    demo = parser.parse_args().demo
    where = settings()
    var = where.var.resolve()
    var.mkdir(parents=True, exist_ok=True)
    with (var / "lock").open("w") as lock:
        if not _taken(lock):
            print(f"Juxtakine is already running: {_address_of_other(var)}", flush=True)
            return 0
        stopped = family.stop(var)
        if stopped:
            print(f"Stopped {stopped} processes that a broken-off run had left behind.", flush=True)
        try:
            return _run(var, where, demo)
        except ServerError as error:
            print(error, file=sys.stderr)
            return 1


def _taken(lock: IO[str]) -> bool:
    """Held as long as this process lives, however it ends; false where another run has it."""
    try:
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return False
    return True


def _address_of_other(var: Path) -> str:
    """Of the run that has this folder; it may only just be starting."""
    end = time.monotonic() + HEALTHY_S
    while time.monotonic() < end:
        with suppress(OSError, ValueError, KeyError):
            address = str(json.loads((var / "run.json").read_text())["address"])
            if _is_healthy(address):
                return address
        time.sleep(0.3)
    return "but it does not answer. Stop it with Ctrl-C where it was started"


def _run(var: Path, where: Settings, demo: bool) -> int:
    backing, web, control = _ports(var, where)
    backing.clear_stale()
    backing.prepare()
    configuration = _write_supervisor_configuration(backing, web, control)
    supervisor = subprocess.Popen(
        [str(BIN / "supervisord"), "--nodaemon", "--configuration", str(configuration)],
        env=os.environ | backing.environment | family.mark(var), start_new_session=True,
        stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
    )  # fmt: skip

    def leave(*_: object) -> None:
        raise KeyboardInterrupt

    signal.signal(signal.SIGTERM, leave)
    address = f"http://{HOST}:{web}"
    try:
        backing.wait()
        _juxtakine(backing, "-m", "juxtakine.store.migrate")
        if demo:
            _juxtakine(backing, "-m", "juxtakine.cli", "demo")
        subprocess.run(
            [str(BIN / "supervisorctl"), "-c", str(configuration), "start", "web", "worker"],
            check=True, stdout=subprocess.DEVNULL,
        )  # fmt: skip
        _wait_healthy(address, supervisor)
        (var / "run.json").write_text(json.dumps({"address": address}))
        print(f"\n  Juxtakine is ready: {address}\n\n  Ctrl-C stops it.", flush=True)
        return supervisor.wait()
    except KeyboardInterrupt:
        print("\nStopping.", flush=True)
        return 0
    except subprocess.CalledProcessError as error:
        raise ServerError(f"A step of the start failed: {error}. See {var / 'log'}.") from error
    finally:
        _stop(supervisor)
        family.stop(var)
        (var / "run.json").unlink(missing_ok=True)


def _ports(var: Path, where: Settings) -> tuple[Backing, int, int]:
    web = free_port(where.web_port)
    database = free_port(where.database_port, frozenset({web}))
    broker = free_port(where.broker_port, frozenset({web, database}))
    control = free_port(broker + 1, frozenset({web, database, broker}))
    return Backing(var, database, broker), web, control


def _write_supervisor_configuration(backing: Backing, web: int, control: int) -> Path:
    var, key = backing.var, secrets.token_urlsafe(16)
    juxtakine = str(BIN / "juxtakine")
    # SIGQUIT makes the worker drop its work at once; what was half done is taken up at the next start
    programs = {
        "database": (backing.database_command, "autostart=true\npriority=1\nstopwaitsecs=20"),
        "broker": (backing.broker_command, "autostart=true\npriority=1"),
        "web": ([juxtakine, "serve", "--port", str(web)], "autostart=false\nstopwaitsecs=3"),
        "worker": ([juxtakine, "worker"], "autostart=false\nstopsignal=QUIT\nstopwaitsecs=3"),
    }
    text = (
        f"[supervisord]\nlogfile={var}/log/supervisord.log\npidfile={var}/supervisord.pid\n"
        f"childlogdir={var}/log\n"
        f"[inet_http_server]\nport={HOST}:{control}\nusername=juxtakine\npassword={key}\n"
        f"[supervisorctl]\nserverurl=http://{HOST}:{control}\nusername=juxtakine\npassword={key}\n"
        "[rpcinterface:supervisor]\n"
        "supervisor.rpcinterface_factory=supervisor.rpcinterface:make_main_rpcinterface\n"
    )
    for name, (command, more) in programs.items():
        quoted = " ".join(f'"{part}"'.replace("%", "%%") for part in command)
        text += (
            f"[program:{name}]\ncommand={quoted}\n{more}\nautorestart=true\nstartretries=10\nstopasgroup=false\n"
            f"killasgroup=true\nredirect_stderr=true\nstdout_logfile={var}/log/{name}.log\n"
        )
    file = var / "supervisord.conf"
    file.touch(mode=0o600)
    file.write_text(text)
    return file


def _juxtakine(backing: Backing, *arguments: str) -> None:
    subprocess.run([sys.executable, *arguments], env=os.environ | backing.environment, check=True)


def _wait_healthy(address: str, supervisor: subprocess.Popen[bytes]) -> None:
    end = time.monotonic() + HEALTHY_S
    while time.monotonic() < end and supervisor.poll() is None:
        if _is_healthy(address):
            return
        time.sleep(0.2)
    raise ServerError("Web or worker did not start; see var/log.")


def _is_healthy(address: str) -> bool:
    try:
        with urllib.request.urlopen(f"{address}/api/health", timeout=3) as answer:
            return bool(json.load(answer)["healthy"])
    except (OSError, ValueError, KeyError):
        return False


def _stop(supervisor: subprocess.Popen[bytes]) -> None:
    supervisor.terminate()
    try:
        supervisor.wait(40)
    except subprocess.TimeoutExpired:
        supervisor.kill()


if __name__ == "__main__":
    sys.exit(main())
