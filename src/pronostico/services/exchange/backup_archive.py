"""A backup file opened with care: nothing of it is believed before it was checked."""

import hashlib
import lzma
import zipfile
import zlib
from collections.abc import Iterator
from pathlib import Path
from typing import TypeVar

from pydantic import ValidationError

from pronostico.errors import Refused
from pronostico.limits import (
    ARCHIVE_BYTES,
    ARCHIVE_FILES,
    ARCHIVE_RATIO,
    ARCHIVE_TEXT_BYTES,
    KEPT_SOUND_BYTES,
    MEGABYTE,
    PICTURE_BYTES,
)
from pronostico.record.base import RecordModel
from pronostico.record.faults import Fault, fault_from_pydantic
from pronostico.services.exchange.backup import (
    BLADES,
    CUSTOMERS,
    ENGINE_FILE,
    KNOWLEDGE_FILE,
    LESSONS,
    MANIFEST,
    NOTEBOOKS,
    PHOTOGRAPH_FILE,
    RECORDING_FILE,
    SETTINGS,
    SHIMS,
    VISIT_PHOTOGRAPHS,
    Manifest,
)

Model = TypeVar("Model", bound=RecordModel)
# What unpacking a damaged or strangely packed file may raise.
_DAMAGED = (zipfile.BadZipFile, zlib.error, lzma.LZMAError, OSError, EOFError, NotImplementedError)


class BackupArchive:
    """A workshop's file, opened and found to be what its manifest says.

    Raises:
        Refused: it is no zip, holds what it should not, is too large, or is not as its manifest says.
    """

    def __init__(self, path: Path) -> None:
        try:
            self._archive = zipfile.ZipFile(path)
        except (zipfile.BadZipFile, OSError) as error:
            raise _refused("is not a zip file, or it is incomplete") from error
        try:
            self._check_names()
            self.manifest = self._model(MANIFEST, Manifest)
            self._check_manifest()
        except Refused:
            self.close()
            raise

    def close(self) -> None:
        """Let the file go."""
        self._archive.close()

    def _check_names(self) -> None:
        entries = self._archive.infolist()
        if len(entries) > ARCHIVE_FILES:
            raise _refused(f"holds {len(entries)} files; a backup has at most {ARCHIVE_FILES}")
        self.unpacked_bytes = sum(one.file_size for one in entries)
        if self.unpacked_bytes > ARCHIVE_BYTES:
            raise _refused(f"would unpack to more than {ARCHIVE_BYTES // (1000 * MEGABYTE)} GB")
        seen: set[str] = set()
        for one in entries:
            if not _is_ours(one.filename):
                raise _refused(f"holds '{one.filename}', which is not part of a backup")
            if one.filename in seen:
                raise _refused(f"holds '{one.filename}' twice")
            seen.add(one.filename)
            if one.file_size > max(MEGABYTE, ARCHIVE_RATIO * one.compress_size):
                raise _refused(f"'{one.filename}' would unpack to over {ARCHIVE_RATIO} times its size")
            if one.flag_bits & 0x1:
                raise _refused(f"'{one.filename}' is encrypted")
        if MANIFEST not in seen:
            raise _refused(f"has no {MANIFEST}")
        self.names = seen

    def _check_manifest(self) -> None:
        listed = {one.path: one for one in self.manifest.files}
        missing, extra = sorted(set(listed) - self.names), sorted(self.names - set(listed) - {MANIFEST})
        if len(listed) < len(self.manifest.files):
            raise _refused(f"{MANIFEST} names a file twice")
        if missing:
            raise _refused(f"{MANIFEST} names '{missing[0]}', which is not there")
        if extra:
            raise _refused(f"'{extra[0]}' is not in {MANIFEST}")
        for path, entry in listed.items():
            content = self.read(path)
            if len(content) != entry.bytes or hashlib.sha256(content).hexdigest() != entry.sha256:
                raise _refused(f"'{path}' does not match {MANIFEST}: it was changed or damaged")

    def read(self, name: str) -> bytes:
        """One file, as long as it is not larger than it may be whatever it claims.

        Raises:
            Refused: it is larger, or damaged.
        """
        most = PICTURE_BYTES if PHOTOGRAPH_FILE.match(name) else ARCHIVE_TEXT_BYTES
        if RECORDING_FILE.match(name):
            most = KEPT_SOUND_BYTES
        try:
            with self._archive.open(name) as file:
                content = file.read(most + 1)
        except _DAMAGED as error:
            raise _refused(f"'{name}' is damaged") from error
        if len(content) > most:
            raise _refused(f"'{name}' is larger than {most // MEGABYTE} MB")
        return content

    def _model(self, name: str, model: type[Model]) -> Model:
        try:
            return model.model_validate_json(self.read(name))
        except ValidationError as error:
            faults = [fault_from_pydantic(model, one) for one in error.errors(include_url=False)]
            raise Refused([Fault(f"{name} {fault.path}", fault.message) for fault in faults]) from error

    def optional(self, name: str, model: type[Model]) -> Model | None:
        """One of the workshop's JSON files; None where it is not there."""
        return self._model(name, model) if name in self.names else None

    def engines(self) -> Iterator[str]:
        """The names of the files that are records."""
        return iter(sorted(name for name in self.names if ENGINE_FILE.match(name)))

    def photographs(self) -> Iterator[str]:
        """The names of the files that are photographs."""
        return iter(sorted(name for name in self.names if PHOTOGRAPH_FILE.match(name)))

    def recordings(self) -> Iterator[str]:
        """The names of the files that are sound recordings."""
        return iter(sorted(name for name in self.names if RECORDING_FILE.match(name)))

    def knowledge(self) -> list[str]:
        """The names of the files that are knowledge."""
        return sorted(name for name in self.names if KNOWLEDGE_FILE.match(name))


def _refused(message: str) -> Refused:
    return Refused([Fault("$", message)])


def _is_ours(name: str) -> bool:
    # Nothing is ever unpacked to a path of the file's own choosing; what is not ours is refused all the same.
    if name in (MANIFEST, BLADES, SHIMS, SETTINGS, LESSONS, NOTEBOOKS, VISIT_PHOTOGRAPHS, CUSTOMERS):
        return True
    return any(known.match(name) for known in (ENGINE_FILE, PHOTOGRAPH_FILE, RECORDING_FILE, KNOWLEDGE_FILE))
