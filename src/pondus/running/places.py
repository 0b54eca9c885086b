"""Where Pondus keeps things on this machine."""

import os
from dataclasses import dataclass
from pathlib import Path

from pondus.core.errors import PondusError

CHECKOUT = Path(__file__).parents[3]


class CannotStart(PondusError):
    """Something on this machine keeps Pondus from starting; the sentence says what, and the way out."""


@dataclass(frozen=True)
class Home:
    """One studio's place on disk: its database cluster, its locks."""

    folder: Path

    @property
    def cluster(self) -> Path:
        """The database cluster's data."""
        return self.folder / "cluster"

    @property
    def lock(self) -> Path:
        """Held while the cluster is being started or stopped."""
        return self.folder / "lock"

    @property
    def users(self) -> Path:
        """Held, shared, by every Pondus that uses the cluster."""
        return self.folder / "users"


def make_folder(folder: Path) -> None:
    """Make a home's folder, whose files are its user's alone. As root PostgreSQL runs as another user, who must pass. What an
    earlier Pondus left open in it is closed. Raises OSError.
    """
    passable = 0o711 if os.geteuid() == 0 else 0o700
    for path in (*reversed(folder.parents), folder):
        if not path.exists():
            path.mkdir(exist_ok=True)
            path.chmod(passable)
    for file in folder.iterdir():
        if file.is_file() and file.stat().st_mode & 0o077 and file.stat().st_uid == os.geteuid():
            file.chmod(0o600)


def home(name: str) -> Home:
    """The place for ``name`` ("studio" or "demo"): under PONDUS_HOME, else the user's (root: the machine's) data folder."""
    base = os.environ.get("PONDUS_HOME")
    if base:
        return Home(Path(base).expanduser().resolve() / name)
    if os.geteuid() == 0:
        return Home(Path("/var/lib/pondus") / name)
    data = os.environ.get("XDG_DATA_HOME") or str(Path.home() / ".local" / "share")
    return Home(Path(data) / "pondus" / name)
