"""Hostile messages to a running runner: each is done, refused, or ends the conversation; the runner plays on.

python tools/faults messages --count 6000 --seed 7
"""

from __future__ import annotations

import os
import socket
import subprocess
import sys
import tempfile
import time
from collections import Counter
from pathlib import Path
from random import Random

from faults.making import any_message, mutated
from nubshift.protocol import lines
from nubshift.protocol import messages as m

PATIENCE = 60.0


class Peer:
    """One connection that has greeted."""

    def __init__(self, path: Path) -> None:
        self.socket = socket.socket(socket.AF_UNIX)
        self.socket.settimeout(PATIENCE)
        end = time.monotonic() + PATIENCE
        while self.socket.connect_ex(str(path)):
            if time.monotonic() > end:
                raise TimeoutError("the runner does not listen")
            time.sleep(0.01)
        self._lines = lines.Lines()
        self.say(lines.encode(m.Hello(m.PROTOCOL)))

    def say(self, data: bytes) -> None:
        """Send bytes. Raises OSError when the conversation is over."""
        self.socket.sendall(data)

    def hear_until(self, edit: int) -> Counter[str]:
        """What is said until this edit is answered, by kind. Raises OSError or TimeoutError."""
        counts: Counter[str] = Counter()
        while True:
            data = self.socket.recv(1 << 18)
            if not data:
                raise ConnectionError
            for line in self._lines.feed(data):
                reply = lines.decode_reply(line)
                counts[type(reply).__name__] += 1
                if isinstance(reply, m.Used) and reply.edit == edit:
                    return counts


def attack(seed: int, count: int, profile: m.Use) -> tuple[Counter[str], list[str]]:
    """Say so many things. Returns what became of them, and the faults."""
    random = Random(seed)
    counts: Counter[str] = Counter()
    faults: list[str] = []
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "socket"
        words = ["run", "-", "--socket", str(path), "--source", "sim:moss", "--sink", f"record:{os.devnull}"]
        log = (Path(folder) / "log").open("w+")
        runner = subprocess.Popen(
            [sys.executable, "-m", "nubshift", *words], stderr=log, env=os.environ | {"XDG_DATA_HOME": folder}
        )
        peer = Peer(path)
        for number in range(count):
            message = any_message(random, m.Request)
            if isinstance(message, m.Quit | m.Hello):
                continue
            data = lines.encode(message)
            data = mutated(random, data) if number % 3 == 0 else data
            edit = 10_000_000 + number
            try:
                peer.say(data + lines.encode(m.Use(profile.profile, edit, switch=True)))
                heard = peer.hear_until(edit)
                counts["told" if heard["Notice"] else "done"] += 1
            except OSError:
                counts["conversation ended"] += 1
                peer.socket.close()
                if runner.poll() is None:
                    peer = Peer(path)
            if runner.poll() is not None:
                faults.append(f"#{number} ended the runner ({runner.returncode}): {data[:300]!r}")
                log.seek(0)
                faults.append("\n".join(log.read().splitlines()[-8:]))
                break
        peer.socket.close()
        runner.terminate()
        runner.wait()
        log.seek(0)
        said = log.read()
        if "Traceback" in said and not faults:
            faults.append(said[-2000:])
        log.close()
    return counts, faults
