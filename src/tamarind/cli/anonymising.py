"""``tamarind anonymise``: copy a job without names, check the copy, put the names back."""

from __future__ import annotations

import argparse
from pathlib import Path

from tamarind.cli.jobs import open_job
from tamarind.cli.output import tell, told
from tamarind.cli.statuses import BREACHES, DONE, SOME_FAILED, WRONG_USE, UseError
from tamarind.job.keylist import SUFFIX, KeyList, read_key_list, text_of
from tamarind.job.withoutnames import WithoutNames, names_in_job, names_left, restore_job
from tamarind.language.identifying import Tells
from tamarind.language.takingout import KeyEntry, entries_of
from tamarind.picture.covering import Cover
from tamarind.system.errors import ToldError
from tamarind.system.files import read_file, shown

LARGEST = 256 << 20
HEAD = ("kind", "replacement", "forms")


def anonymise(options: argparse.Namespace) -> int:
    """Do what the options ask for; return the exit status."""
    try:
        if not options.job.exists():
            raise UseError(f"“{options.job}” is no job: there is no such file.")
        password = _password(options)
        if options.restore:
            return _restore(options, password)
        entries = _entries(options)
        if options.list:
            print("\n".join(_table(entries)))
            return DONE
        if options.check is not None:
            return _tell_left(names_left(options.check, entries))
        return _copy(options, entries, password)
    except UseError as error:
        return told(error, WRONG_USE)
    except ToldError as error:
        return told(error, SOME_FAILED)
    except OSError as error:
        return told(f"{error.filename or options.job}: {error.strerror}.", SOME_FAILED)


def _copy(options: argparse.Namespace, entries: list[KeyEntry], password: str) -> int:
    if not entries:
        raise UseError("Nothing was found that tells who somebody is; --names says what.")
    job = options.job.absolute()
    folder = options.output or job.with_name(f"{job.stem} without names")
    key = options.key or folder.with_name(f"{folder.name}{SUFFIX}")
    if key.exists():
        raise UseError(f"“{key}” already exists: it may be the only key to another copy.")
    folder.parent.mkdir(parents=True, exist_ok=True)
    cover = Cover.TONE if options.tone else Cover.SILENCE
    order = WithoutNames(
        job, folder, tuple(entries), key, cover=cover, margin=options.margin, password=password
    )
    order.fill()
    for path in sorted(folder.iterdir()):
        tell(shown(str(path)))
    tell(f"{shown(str(key))}: the key list, which tells who is who.")
    return _tell_left(names_left(folder, entries))


def _tell_left(left: list[str]) -> int:
    for sentence in left:
        told(sentence, BREACHES)
    if not left:
        tell("No name stands there any more.")
    return BREACHES if left else DONE


def _restore(options: argparse.Namespace, password: str) -> int:
    if options.key is None:
        raise UseError("--restore needs the key list: --key FILE.")
    missing = restore_job(options.job, _key_list(options.key, password))
    if missing:
        noun = "1 name" if missing == 1 else f"{missing} names"
        return told(f"{noun} could not be put back: their words were changed.", SOME_FAILED)
    tell("All names are back in the texts; the sound stays as it is.")
    return DONE


def _key_list(path: Path, password: str) -> KeyList:
    return read_key_list(text_of(path), password)


def _password(options: argparse.Namespace) -> str:
    """Return the first line of the password file; "" without one."""
    if options.password_file is None:
        return ""
    lines = read_file(options.password_file, 1 << 16).decode("utf-8", "replace").splitlines()
    if not lines or not lines[0].strip():
        raise UseError(f"“{options.password_file}” has no password in its first line.")
    return lines[0].strip()


def _entries(options: argparse.Namespace) -> list[KeyEntry]:
    """Return the entries of the table that is named, or those found in the job."""
    if options.names is not None:
        return _read_table(options.names)
    opened = open_job(options.job)
    try:
        found = names_in_job(opened.store)
    finally:
        opened.store.close()
    return entries_of(one for one in found if one.sure or options.list)


def _table(entries: list[KeyEntry]) -> list[str]:
    """Return entries as lines with tabs: kind, replacement, forms with bars between."""
    rows = [(one.tells.value, one.replacement, " | ".join(one.forms)) for one in entries]
    return ["\t".join(row) for row in (HEAD, *rows)]


def _read_table(path: Path) -> list[KeyEntry]:
    """Read such a table. Raises UseError with a sentence."""
    text = read_file(path, LARGEST).decode("utf-8-sig", "replace")
    entries = []
    for number, line in enumerate(text.splitlines(), 1):
        if not line.strip() or line.split("\t")[0] == HEAD[0]:
            continue
        try:
            kind, replacement, forms = (part.strip() for part in line.split("\t"))
            entries.append(
                KeyEntry(Tells(kind), tuple(one.strip() for one in forms.split("|")), replacement)
            )
        except ValueError:
            kinds = ", ".join(Tells)
            raise UseError(
                f"{path}, line {number}: a kind ({kinds}), a tab, the replacement, a tab, forms."
            ) from None
    return entries
