"""MariaDB and Redis of our own: how their data folders are made, and the commands that run them on loopback."""

import os
import re
import secrets
import shutil
import subprocess
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from pathlib import Path

from juxtakine.servers.ports import HOST, free_port, listens

SECRET = re.compile(r"[\w-]{20,}")
READY_S = 60
STOP_S = 20


class ServerError(RuntimeError):
    """A server that does not start; the message says which and where its log is."""


@dataclass(frozen=True)
class Backing:
    """Both servers of one `var` folder on their ports."""

    var: Path
    database_port: int
    broker_port: int

    @property
    def secret(self) -> str:
        """One password for both, made at first use, or where it is no secret any more; readable by its owner alone."""
        if kept := self._kept_secret():
            return kept
        file = self.var / "secret"
        file.parent.mkdir(parents=True, exist_ok=True)
        file.touch(mode=0o600)
        file.write_text(made := secrets.token_urlsafe(24))
        return made

    def _kept_secret(self) -> str | None:
        """None where there is none yet, or what is there can't be one."""
        file = self.var / "secret"
        told = file.read_text(errors="replace") if file.exists() else ""
        return told if SECRET.fullmatch(told) else None

    @property
    def database_url(self) -> str:
        return f"mariadb+pymysql://juxtakine:{self.secret}@{HOST}:{self.database_port}/juxtakine?charset=utf8mb4"

    @property
    def broker_url(self) -> str:
        return f"redis://:{self.secret}@{HOST}:{self.broker_port}/0"

    @property
    def environment(self) -> dict[str, str]:
        """What web and worker are told."""
        return {
            "JUXTAKINE_VAR": str(self.var),
            "JUXTAKINE_DATABASE_URL": self.database_url,
            "JUXTAKINE_BROKER_URL": self.broker_url,
            "TMPDIR": str(self.var / "tmp"),
            # MariaDB's own masks: what it makes is for its owner alone
            "UMASK": "0600",
            "UMASK_DIR": "0700",
        }

    def prepare(self) -> None:
        """Make the data folders where they are missing; a half-made one is made anew."""
        shutil.rmtree(self.var / "tmp", ignore_errors=True)
        shutil.rmtree(self.var / "redis" / "appendonlydir", ignore_errors=True)  # of versions that kept it
        if (self.var / "secret").exists() and not self._kept_secret():
            print("The secret of the servers was damaged; a new one is made, and nothing is lost by it.", flush=True)
        for name in ("redis", "log", "tmp"):
            (self.var / name).mkdir(parents=True, exist_ok=True)
        data = self.var / "mariadb"
        if not data.exists():
            self._set_clips_aside()
            self._make_database_folder(data)
        self._write_first_sql()
        self._write_broker_configuration()
        close_to_others(self.var)

    def _set_clips_aside(self) -> None:
        """A new database knows none of the clips that are there, and would have them cleared away."""
        media = self.var / "media"
        if any(media.glob("??/*")):
            kept = self.var / f"media.{time.strftime('%Y-%m-%d.%H%M%S')}"
            media.rename(kept)
            print(f"The database is new; the clips of the one before are kept in {kept}.", flush=True)

    def _make_database_folder(self, data: Path) -> None:
        made = self.var / "mariadb.new"
        shutil.rmtree(made, ignore_errors=True)
        command = [
            "mariadb-install-db", "--no-defaults", f"--datadir={made}", "--auth-root-authentication-method=normal",
            "--skip-test-db", *_as_root(),
        ]  # fmt: skip
        done = subprocess.run(command, capture_output=True, text=True)
        if done.returncode:
            raise ServerError(f"MariaDB's data folder can't be made: {done.stderr.strip() or done.stdout.strip()}")
        made.rename(data)

    def _write_first_sql(self) -> None:
        """Said at every start, so that a changed secret or a fresh folder ends the same."""
        sql = self.var / "first.sql"
        sql.touch(mode=0o600)
        sql.write_text(
            "CREATE DATABASE IF NOT EXISTS juxtakine CHARACTER SET utf8mb4 COLLATE utf8mb4_bin;\n"
            # one account: no root, nobody without a name; the system's own can't log in
            "DELETE FROM mysql.global_priv WHERE User <> 'mariadb.sys';\n"
            "DELETE FROM mysql.db;\n"
            "FLUSH PRIVILEGES;\n"
            f"CREATE USER 'juxtakine'@'{HOST}' IDENTIFIED BY '{self.secret}';\n"
            # its own schema and those that tests make beside it; no files, no other accounts
            f"GRANT ALL ON `juxtakine%`.* TO 'juxtakine'@'{HOST}';\n"
        )

    def _write_broker_configuration(self) -> None:
        """Nothing is kept over a restart: what is to be done stands in the database, and is sent again from there."""
        conf = self.var / "redis.conf"
        conf.touch(mode=0o600)
        conf.write_text(
            f"bind {HOST}\nport {self.broker_port}\nrequirepass {self.secret}\ndir {self.var / 'redis'}\n"
            'appendonly no\nsave ""\ndaemonize no\nset-proc-title no\n'
        )

    @property
    def database_command(self) -> list[str]:
        # the socket's name is relative to the data folder: a path to it may be too long for a socket
        return [
            found("mariadbd") or "mariadbd", "--no-defaults",
            f"--datadir={self.var / 'mariadb'}", "--socket=mariadb.sock",
            f"--pid-file={self.var / 'mariadb.pid'}", f"--bind-address={HOST}", f"--port={self.database_port}",
            f"--init-file={self.var / 'first.sql'}", "--skip-name-resolve", "--local-infile=0",
            "--innodb-buffer-pool-size=64M",
            *_as_root(),
        ]  # fmt: skip

    @property
    def broker_command(self) -> list[str]:
        return ["redis-server", str(self.var / "redis.conf")]

    def clear_stale(self) -> None:
        """Remove what a killed run leaves behind; only for when nothing of it lives any more."""
        for name in ("mariadb.pid", "mariadb/mariadb.sock", "supervisord.pid"):
            (self.var / name).unlink(missing_ok=True)

    def wait(self, still: Callable[[], bool] = lambda: True) -> None:
        """Until both answer, as long as `still` says that there is hope. Raises ServerError."""
        end = time.monotonic() + READY_S
        while time.monotonic() < end and still():
            if listens(self.broker_port) and listens(self.database_port):
                return
            time.sleep(0.1)
        raise ServerError(f"MariaDB or Redis did not start; see {self.var / 'log'}")


def close_to_others(var: Path) -> None:
    """The folder and all in it are for their owner alone; this and all that it starts makes nothing for others."""
    os.umask(0o077)
    for at in (var, *var.rglob("*")):
        with suppress(FileNotFoundError):  # a log that is turned over meanwhile
            if not at.is_symlink() and at.stat().st_mode & 0o077:
                at.chmod(at.stat().st_mode & 0o700)


def found(program: str) -> str | None:
    """Its path: Debian's servers lie where an ordinary user's PATH may not reach."""
    return shutil.which(program, path=f"{os.environ.get('PATH', '')}:/usr/sbin")


def _as_root() -> list[str]:
    return ["--user=root"] if os.geteuid() == 0 else []


@contextmanager
def running(var: Path) -> Iterator[Backing]:
    """Both servers for as long as the block lasts, with no supervisor: for tests and one-off work."""
    database = free_port(20_000 + os.getpid() % 20_000)
    backing = Backing(var, database, free_port(database + 1))
    backing.prepare()
    backing.clear_stale()
    with (var / "log" / "backing.log").open("w") as log:
        commands = (backing.database_command, backing.broker_command)
        told = os.environ | backing.environment
        processes = [subprocess.Popen(c, stdout=log, stderr=log, env=told) for c in commands]
        try:
            backing.wait(lambda: all(p.poll() is None for p in processes))
            yield backing
        finally:
            for process in processes:
                process.terminate()
            for process in processes:
                try:
                    process.wait(STOP_S)
                except subprocess.TimeoutExpired:
                    process.kill()
