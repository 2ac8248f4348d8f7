"""A real PostgreSQL server for tests: in a temporary folder, on a socket nobody else has."""

from __future__ import annotations

import atexit
import functools
import os
import pwd
import shutil
import subprocess
import tempfile
import time
from pathlib import Path

ROOTS = ("/usr/lib/postgresql", "/usr/local/pgsql")
USER = "postgres"


def program(name: str) -> Path | None:
    """A program of the newest server that is installed."""
    found = [p for root in ROOTS for p in Path(root).glob(f"*/bin/{name}")]
    if found:
        return max(found, key=lambda p: int("0" + "".join(c for c in p.parts[-3] if c.isdigit())))
    on_path = shutil.which(name)
    return Path(on_path) if on_path else None


class Server:
    """One that is started, killed and started again."""

    def __init__(self) -> None:
        self.home = Path(tempfile.mkdtemp(prefix="zbl-pg-"))
        self.data, self.port = self.home / "data", 5499
        self._process: subprocess.Popen[bytes] | None = None
        self._as = USER if os.geteuid() == 0 else None  # a server refuses to run as root
        if self._as is not None:
            shutil.chown(self.home, self._as)
        made = self._run("initdb", "-D", str(self.data), "-U", USER, "-A", "trust", "-N")
        if made.returncode:
            raise RuntimeError(made.stderr.decode())

    def _run(self, name: str, *words: str) -> subprocess.CompletedProcess[bytes]:
        return subprocess.run(
            [str(program(name)), *words], capture_output=True, check=False, user=self._as, cwd="/"
        )

    def start(self) -> None:
        """Until it answers."""
        words = ["-D", str(self.data), "-k", str(self.home), "-p", str(self.port)]
        words += ["-c", "listen_addresses=", "-c", "fsync=off"]
        self._process = subprocess.Popen(
            [str(program("postgres")), *words],
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            user=self._as,
            cwd="/",
        )
        for _ in range(200):
            ready = self._run("pg_isready", "-h", str(self.home), "-p", str(self.port))
            if ready.returncode == 0:
                return
            time.sleep(0.1)
        raise RuntimeError("the server does not answer")

    def kill(self) -> None:
        """As a power cut does."""
        if self._process is not None:
            self._process.kill()
            self._process.wait()
            self._process = None
            time.sleep(0.3)  # its children notice

    def database(self, name: str) -> str:
        """A fresh one: its address."""
        where = ("-h", str(self.home), "-p", str(self.port), "-U", USER)
        self._run("dropdb", *where, "--if-exists", "--force", name)
        made = self._run("createdb", *where, name)
        if made.returncode:
            raise RuntimeError(made.stderr.decode())
        return f"postgresql://{USER}@/{name}?host={self.home}&port={self.port}"

    def end(self) -> None:
        """Stop it and take it away."""
        self.kill()
        shutil.rmtree(self.home, ignore_errors=True)


@functools.cache
def running() -> Server:
    """The server of this process, started when first asked for.

    Raises:
        RuntimeError: none is installed, or it does not start.
    """
    if program("initdb") is None:
        raise RuntimeError("PostgreSQL is not installed: sudo apt-get install -y postgresql")
    if os.geteuid() == 0:
        pwd.getpwnam(USER)
    server = Server()
    atexit.register(server.end)
    server.start()
    return server
