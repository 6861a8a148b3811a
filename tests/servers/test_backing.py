"""The servers' own folders: made once, mended when half made, readable by their owner alone."""

import shutil
import stat
from pathlib import Path

import pymysql
import pytest
import redis
from sqlalchemy import make_url

from juxtakine.servers.backing import Backing, ServerError, close_to_others
from support.stack import Stack


def test_secrets_are_for_their_owner_alone(stack: Stack) -> None:
    for name in ("secret", "first.sql", "redis.conf"):
        mode = (stack.backing.var / name).stat().st_mode
        assert stat.S_IMODE(mode) & 0o077 == 0, name


def test_nobody_gets_in_without_the_secret(stack: Stack) -> None:
    with pytest.raises(redis.AuthenticationError):
        redis.Redis(port=stack.backing.broker_port).ping()
    socket = str(stack.backing.var / "mariadb" / "mariadb.sock")
    for user in ("root", "juxtakine", "", "mariadb.sys"):
        for password in ("", "guess"):
            for told in ({"host": "127.0.0.1", "port": stack.backing.database_port}, {"unix_socket": socket}):
                with pytest.raises(pymysql.err.OperationalError):
                    pymysql.connect(user=user, password=password, **told)


def test_there_is_one_account_and_it_reads_and_writes_no_files(stack: Stack, tmp_path: Path) -> None:
    url = make_url(stack.backing.database_url)
    with (
        pymysql.connect(host=url.host, port=url.port, user=url.username, password=url.password) as us,
        us.cursor() as c,
    ):
        c.execute("SELECT CURRENT_USER(), GROUP_CONCAT(DISTINCT grantee) FROM information_schema.user_privileges")
        assert c.fetchone() == ("juxtakine@127.0.0.1", "'juxtakine'@'127.0.0.1'")
        c.execute("SHOW GRANTS")
        granted = [row[0] for row in c.fetchall()]
        assert granted[0].startswith("GRANT USAGE ON *.*")
        for statement in (
            "SELECT 1 INTO OUTFILE '/tmp/juxtakine-out'",
            "SELECT User FROM mysql.global_priv",
            "CREATE USER x",
        ):
            with pytest.raises(pymysql.err.Error):
                c.execute(statement)
        c.execute("SELECT LOAD_FILE('/etc/hostname')")
        assert c.fetchone() == (None,)


def test_all_that_is_kept_is_for_its_owner_alone(stack: Stack) -> None:
    """But for MariaDB's socket, which it opens to all: nobody else gets to the folder that it lies in."""
    files = [f for f in stack.backing.var.rglob("*") if not f.is_symlink() and not f.is_socket()]
    assert [f for f in files if f.stat().st_mode & 0o077] == []
    assert stat.S_IMODE(stack.backing.var.stat().st_mode) == 0o700


def test_what_others_could_read_before_is_closed(tmp_path: Path) -> None:
    loose = tmp_path / "var" / "media" / "ab"
    loose.mkdir(parents=True)
    (loose / "clip").write_bytes(b"a clip")
    (loose / "clip").chmod(0o644)
    close_to_others(tmp_path / "var")
    assert {stat.S_IMODE(f.stat().st_mode) for f in (loose, loose.parent)} == {0o700}
    assert stat.S_IMODE((loose / "clip").stat().st_mode) == 0o600


@pytest.mark.parametrize("damaged", ["", "short", "two words of a secret"])
def test_a_secret_that_is_none_is_made_anew(tmp_path: Path, damaged: str) -> None:
    backing = Backing(tmp_path / "var", 1, 2)
    (tmp_path / "var").mkdir()
    (tmp_path / "var" / "secret").write_text(damaged)
    assert len(made := backing.secret) > 20
    assert backing.secret == made


def test_clips_of_a_database_that_is_gone_are_set_aside_and_not_cleared(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    clip = tmp_path / "var" / "media" / "ab" / "abcd" / "clip"
    clip.parent.mkdir(parents=True)
    clip.write_bytes(b"a clip")
    Backing(tmp_path / "var", 1, 2).prepare()
    assert "are kept in" in capsys.readouterr().out
    (kept,) = (tmp_path / "var").glob("media.*/ab/abcd/clip")
    assert kept.read_bytes() == b"a clip"


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
