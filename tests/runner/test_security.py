"""What docs/security.md promises of the socket and of names in files."""

from __future__ import annotations

import os
import stat
import subprocess
import sys
from pathlib import Path

import msgspec
import pytest

from nubshift.errors import ProfileError
from nubshift.model.neighbours import read_neighbours
from nubshift.model.reading import parse_profile
from nubshift.model.sends import HoldProfile
from nubshift.model.store import ProfileFile, write_atomically
from nubshift.model.writing import profile_text
from nubshift.protocol.lines import encode
from nubshift.protocol.messages import PROTOCOL, Hello
from nubshift.runner.server import Server
from tests.support.profiles import made

NOBODY = 65534
ASKER = """
import os, socket, sys
os.setgid(int(sys.argv[2])); os.setuid(int(sys.argv[2]))
asking = socket.socket(socket.AF_UNIX)
try:
    asking.connect(sys.argv[1])
    asking.sendall(bytes.fromhex(sys.argv[3]))
    print("answered" if asking.recv(1) else "closed")
except PermissionError:
    print("refused")
except OSError:
    print("closed")
"""


def test_the_socket_and_its_folder_are_the_owners_alone_whatever_the_umask(tmp_path: Path) -> None:
    before = os.umask(0)
    try:
        server = Server(tmp_path / "deep" / "runner.sock")
    finally:
        os.umask(before)
    try:
        assert stat.S_IMODE(server.path.stat().st_mode) == 0o600
        assert stat.S_IMODE(server.path.parent.stat().st_mode) == 0o700
    finally:
        server.close()


@pytest.mark.skipif(os.geteuid() != 0, reason="only root can be another user too")
def test_another_user_is_not_served_even_where_the_file_lets_them_in(tmp_path: Path) -> None:
    server = Server(tmp_path / "runner.sock")
    greeting = encode(Hello(PROTOCOL)).hex()

    def asked_by(user: int) -> subprocess.Popen[str]:
        words = [sys.executable, "-c", ASKER, str(server.path), str(user), greeting]
        return subprocess.Popen(words, stdout=subprocess.PIPE, text=True)

    try:
        for folder in (tmp_path, *tmp_path.parents):
            if folder.is_relative_to("/tmp") and folder != Path("/tmp"):
                folder.chmod(0o755)
        assert asked_by(NOBODY).communicate()[0].strip() == "refused", "by the mode of the file"
        server.path.chmod(0o666)
        asker = asked_by(NOBODY)
        while asker.poll() is None and not server.clients:
            server.accept()
        assert asker.communicate()[0].strip() == "closed", "by who it is"
        assert not server.clients
        asker = asked_by(os.getuid())
        while not server.clients:
            server.accept()
        assert next(iter(server.clients)).uid == os.getuid(), "the owner is"
        asker.kill()
        asker.communicate()
    finally:
        server.close()


@pytest.mark.parametrize("name", ["../secret", "/etc/passwd", "a/b", "..", ".", "a\u0000b", "A b", ""])
def test_no_name_in_a_profile_leads_out_of_its_folder(name: str, tmp_path: Path) -> None:
    """A profile that is held is named by its file, and such a name can't be written as a path."""
    outside = ProfileFile(tmp_path / "secret.nubshift.json")
    outside.write(made({"base": {"south": "A"}}))
    folder = tmp_path / "profiles"
    folder.mkdir()
    profile = made({"base": {"south": HoldProfile(name)}})
    assert read_neighbours(made({"base": {"south": HoldProfile("secret")}}), folder) == {}
    with pytest.raises(ProfileError):
        parse_profile(msgspec.json.encode(msgspec.json.decode(profile_text(profile))), "here")


def test_what_is_written_is_the_owners_alone_and_a_link_is_followed_not_replaced(tmp_path: Path) -> None:
    before = os.umask(0)
    try:
        write_atomically(tmp_path / "new" / "settings.json", b"{}")
    finally:
        os.umask(before)
    written = tmp_path / "new" / "settings.json"
    assert stat.S_IMODE(written.stat().st_mode) == 0o600
    link = tmp_path / "link.json"
    link.symlink_to(written)
    write_atomically(link, b"[]")
    assert link.is_symlink()
    assert written.read_bytes() == b"[]"
