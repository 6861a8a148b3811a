"""Starts everything and stays until Ctrl-C: `python -m juxtakine.servers.up [--demo]`.

A run that is alive is left alone and its address printed; what a killed one left behind is stopped and cleared first.
"""

import argparse
import errno
import json
import os
import secrets
import signal
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

from juxtakine.servers import family
from juxtakine.servers.backing import Backing, ServerError
from juxtakine.servers.data_folder import LEAST_TO_START_BYTES, unusable
from juxtakine.servers.ports import HOST, free_port
from juxtakine.servers.runs import LiveRun, held, run_of
from juxtakine.settings import Settings, SettingsError, settings

HEALTHY_S = 90
WEB = ("web", "web-2")
"""Two web servers on one port: one Python computes on one core, and while one is started again the other answers."""
BIN = Path(sys.executable).parent


def main() -> int:
    parser = argparse.ArgumentParser(prog="up")
    parser.add_argument("--demo", action="store_true", help="load the demo data first")
    demo = parser.parse_args().demo
    try:
        return _alone(settings(), demo)
    except (ServerError, SettingsError) as error:
        print(error, file=sys.stderr)
    except OSError as error:
        where = settings().var
        full = unusable(where, LEAST_TO_START_BYTES) if error.errno == errno.ENOSPC else None
        print(full or f"This can't start: {error}.", file=sys.stderr)
    return 1


def _alone(where: Settings, demo: bool) -> int:
    """One run over the data folder. Raises ServerError and OSError."""
    var = where.var.resolve()
    if wrong := unusable(var, LEAST_TO_START_BYTES):
        raise ServerError(wrong)
    var.mkdir(parents=True, exist_ok=True)
    with held(var) as ours:
        if not ours:
            print(f"Juxtakine is already running: {_address_of_other(var)}", flush=True)
            return 0
        stopped = family.stop(var)
        if stopped:
            print(f"Stopped {stopped} processes that a broken-off run had left behind.", flush=True)
        return _run(var, where, demo)


def _address_of_other(var: Path) -> str:
    """Of the run that has this folder; it may only just be starting."""
    end = time.monotonic() + HEALTHY_S
    while time.monotonic() < end:
        other = run_of(var)
        if other and _is_healthy(other.address):
            return other.address
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
    run = LiveRun(f"http://{HOST}:{web}", backing.database_port, backing.broker_port)
    try:
        backing.wait(lambda: supervisor.poll() is None)
        _juxtakine(backing, "-m", "juxtakine.store.migrate")
        if demo:
            _juxtakine(backing, "-m", "juxtakine.cli", "demo")
        subprocess.run(
            [str(BIN / "supervisorctl"), "-c", str(configuration), "start", *WEB, "worker"],
            check=True, stdout=subprocess.DEVNULL,
        )  # fmt: skip
        _wait_healthy(run.address, supervisor)
        run.keep(var)
        print(f"\n  Juxtakine is ready: {run.address}\n\n  Ctrl-C stops it.", flush=True)
        supervisor.wait()
        raise ServerError(
            f"The supervisor ended by itself (status {supervisor.returncode}), so everything was stopped. What was "
            f"kept is there: start it again. Its log is {var / 'log' / 'supervisord.log'}."
        )
    except KeyboardInterrupt:
        print("\nStopping.", flush=True)
        return 0
    except subprocess.CalledProcessError as error:
        raise ServerError(unusable(var, LEAST_TO_START_BYTES) or _failed(error, var)) from error
    finally:
        _stop(supervisor)
        family.stop(var)
        LiveRun.forget(var)


def _failed(step: subprocess.CalledProcessError, var: Path) -> str:
    return f"A step of the start failed: {step}. See {var / 'log'}."


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
    serve = [juxtakine, "serve", "--port", str(web), "--share-port"]
    programs = {
        "database": (backing.database_command, "autostart=true\npriority=1\nstopwaitsecs=20"),
        "broker": (backing.broker_command, "autostart=true\npriority=1"),
        **dict.fromkeys(WEB, (serve, "autostart=false\nstopwaitsecs=3")),
        "worker": ([juxtakine, "worker"], "autostart=false\nstopsignal=QUIT\nstopwaitsecs=3"),
    }
    text = (
        f"[supervisord]\nlogfile={var}/log/supervisord.log\npidfile={var}/supervisord.pid\n"
        f"childlogdir={var}/log\numask=077\n"
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
