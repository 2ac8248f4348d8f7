"""A real PostgreSQL server for tests: in a temporary folder, on a socket nobody else has."""

from __future__ import annotations

import atexit
import functools
import os
import pwd
import shutil
import socket
import subprocess
import tempfile
import time
from datetime import UTC, datetime, timedelta
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


FAR = "127.0.0.2"
"""An address that is not this very machine, as far as anybody can tell by its looks."""


def certificate(folder: Path) -> None:
    """A key and what it proves, as a shop makes one for its own server."""
    from cryptography import x509
    from cryptography.hazmat.primitives import hashes, serialization
    from cryptography.hazmat.primitives.asymmetric import ec
    from cryptography.x509.oid import NameOID

    key, now = ec.generate_private_key(ec.SECP256R1()), datetime.now(UTC)
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "bay one")])
    made = (
        x509.CertificateBuilder(name, name, key.public_key(), x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + timedelta(days=2))
        .sign(key, hashes.SHA256())
    )
    plain = serialization.NoEncryption()
    kind = serialization.PrivateFormat.PKCS8
    (folder / "server.key").write_bytes(key.private_bytes(serialization.Encoding.PEM, kind, plain))
    (folder / "server.crt").write_bytes(made.public_bytes(serialization.Encoding.PEM))
    (folder / "server.key").chmod(0o600)


def _free() -> int:
    """A port that nobody listens on."""
    with socket.socket() as held:
        held.bind((FAR, 0))
        port: int = held.getsockname()[1]
        return port


class Server:
    """One that is started, killed and started again; a far one asks for passwords, over TLS."""

    def __init__(self, far: bool = False) -> None:
        self.home = Path(tempfile.mkdtemp(prefix="zbl-pg-"))
        self.data, self.port = self.home / "data", _free() if far else 5499
        self._listens = FAR if far else ""
        self._process: subprocess.Popen[bytes] | None = None
        self._as = USER if os.geteuid() == 0 else None  # a server refuses to run as root
        if self._as is not None:
            shutil.chown(self.home, self._as)
        made = self._run("initdb", "-D", str(self.data), "-U", USER, "-A", "trust", "-N")
        if made.returncode:
            raise RuntimeError(made.stderr.decode())
        if far:
            certificate(self.data)
            asked = "local all all trust\nhost all all 127.0.0.0/8 scram-sha-256\n"
            (self.data / "pg_hba.conf").write_text(asked)
            if self._as is not None:
                shutil.chown(self.data / "server.key", self._as)
                shutil.chown(self.data / "server.crt", self._as)

    def _run(self, name: str, *words: str) -> subprocess.CompletedProcess[bytes]:
        return subprocess.run(
            [str(program(name)), *words], capture_output=True, check=False, user=self._as, cwd="/"
        )

    def start(self, ssl: str = "off") -> None:
        """Until it answers."""
        words = ["-D", str(self.data), "-k", str(self.home), "-p", str(self.port)]
        words += ["-c", f"listen_addresses={self._listens}", "-c", "fsync=off", "-c", f"ssl={ssl}"]
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

    def account(self, name: str, password: str) -> None:
        """One more that may log in."""
        where = ("-h", str(self.home), "-p", str(self.port), "-U", USER, "-d", "postgres")
        made = self._run("psql", *where, "-c", f"CREATE ROLE {name} LOGIN PASSWORD '{password}'")
        if made.returncode:
            raise RuntimeError(made.stderr.decode())

    def database(self, name: str, owner: str = USER) -> str:
        """A fresh one: its address."""
        where = ("-h", str(self.home), "-p", str(self.port), "-U", USER)
        self._run("dropdb", *where, "--if-exists", "--force", name)
        made = self._run("createdb", *where, "-O", owner, name)
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
