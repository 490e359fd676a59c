"""The user's own shelf: profiles kept as TOML files in the data folder, each to be passed on as it is."""

from contextlib import suppress
from pathlib import Path

from ennead.files.errors import FileTrouble, reason_of
from ennead.files.profile_text import profile_toml
from ennead.files.profiles import MOST_BYTES, read_profile
from ennead.files.regular import write_text
from ennead.files.text_file import read_small
from ennead.studio.profile import Profile


def read_profile_file(path: Path) -> Profile:
    """Read a profile from a TOML file.

    Raises
    ------
    FileTrouble
    """
    remedy = "Choose a profile, a text file that ends in .toml."
    return read_profile(read_small(path, MOST_BYTES, "a profile", remedy), str(path))


def user_profiles(folder: Path) -> tuple[tuple[Profile, ...], tuple[FileTrouble, ...]]:
    """Return the profiles on the user's shelf by name, and what is wrong with those that cannot be read."""
    profiles: list[Profile] = []
    troubles: list[FileTrouble] = []
    for path in sorted(folder.glob("*.toml")) if folder.is_dir() else []:
        try:
            profiles.append(read_profile_file(path))
        except FileTrouble as trouble:
            troubles.append(trouble)
    return tuple(sorted(profiles, key=lambda p: p.name.casefold())), tuple(troubles)


def keep_profile(folder: Path, profile: Profile) -> Path:
    """Put a profile on the user's shelf; one that bears the same name is replaced. Return its file.

    Raises
    ------
    FileTrouble
    """
    stem = profile_file_name(profile).removesuffix(".toml")
    paths = (folder / f"{stem}{f' ({n})' if n > 1 else ''}.toml" for n in range(1, 1_000))
    path = next(p for p in paths if not p.exists() or _bears(p, profile.name))
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise FileTrouble(
            folder, f"it cannot be made ({reason_of(error)})", "Free some room in your data folder."
        ) from None
    write_profile(path, profile)
    return path


def _bears(path: Path, name: str) -> bool:
    """Say whether a file on the shelf holds the profile of a name; a file that cannot be read is never replaced."""
    try:
        return read_profile_file(path).name == name
    except FileTrouble:
        return False


def profile_file_name(profile: Profile) -> str:
    """Return what a profile's file is called: its name without what no file may be called."""
    bare = "".join(c if c.isalnum() or c in " -_" else "-" for c in profile.name)[:60].strip(" -") or "profile"
    return f"{bare}.toml"


def write_profile(path: Path, profile: Profile) -> None:
    """Write a profile as TOML.

    Raises
    ------
    FileTrouble
    """
    write_text(path, profile_toml(profile))


def drop_profile(folder: Path, profile: Profile) -> None:
    """Take a profile off the user's shelf."""
    for path in folder.glob("*.toml") if folder.is_dir() else []:
        if _bears(path, profile.name):
            with suppress(OSError):
                path.unlink()
