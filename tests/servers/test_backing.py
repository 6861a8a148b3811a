"""The servers' own folders: made once, mended when half made, readable by their owner alone."""

import shutil
import stat
from pathlib import Path

import pymysql
import pytest
import redis

from juxtakine.servers.backing import Backing, ServerError
from support.stack import Stack


def test_secrets_are_for_their_owner_alone(stack: Stack) -> None:
    for name in ("secret", "first.sql", "redis.conf"):
        mode = (stack.backing.var / name).stat().st_mode
        assert stat.S_IMODE(mode) & 0o077 == 0, name


def test_nobody_gets_in_without_the_secret(stack: Stack) -> None:
    with pytest.raises(redis.AuthenticationError):
        redis.Redis(port=stack.backing.broker_port).ping()
    for user in ("root", "juxtakine"):
        with pytest.raises(pymysql.err.OperationalError):
            pymysql.connect(host="127.0.0.1", port=stack.backing.database_port, user=user, password="guess")


def test_they_listen_on_loopback_alone(stack: Stack) -> None:
    addresses = {
        line.split()[1] for line in Path("/proc/net/tcp").read_text().splitlines()[1:] if line.split()[3] == "0A"
    }
    for port in (stack.backing.broker_port, stack.backing.database_port, int(stack.address.rsplit(":")[-1])):
        heard = {a for a in addresses if a.endswith(f":{port:04X}")}
        assert heard == {f"0100007F:{port:04X}"}


def test_a_half_made_data_folder_is_made_anew(tmp_path: Path) -> None:
    backing = Backing(tmp_path / "var", 1, 2)
    half = tmp_path / "var" / "mariadb.new"
    half.mkdir(parents=True)
    (half / "ibdata1").write_text("broken off")
    backing.prepare()
    assert (tmp_path / "var" / "mariadb" / "mysql").is_dir()
    assert not half.exists()
    kept = backing.secret
    backing.prepare()
    assert backing.secret == kept


def test_servers_are_found_where_an_ordinary_users_path_does_not_reach(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Debian keeps them with what is for its administrator."""
    monkeypatch.setenv("PATH", "/usr/local/bin:/usr/bin:/bin")
    assert shutil.which("mariadbd") is None
    backing = Backing(tmp_path / "var", 1, 2)
    for command in (backing.database_command, ["mariadb-install-db"], backing.broker_command):
        assert shutil.which(command[0]), command[0]


def test_a_server_that_does_not_come_is_said(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("juxtakine.servers.backing.READY_S", 0.3)
    with pytest.raises(ServerError, match="did not start; see"):
        Backing(tmp_path, 1, 2).wait()
