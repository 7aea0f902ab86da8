"""Every error the program raises on purpose.

    YoungCometError
    ├── DocumentError        the user's document, edit or typed value is wrong
    │   ├── NotFoundError    an id names nothing
    │   ├── ConflictError    somebody else changed the same thing meanwhile
    │   ├── InUseError       the thing is still needed elsewhere
    │   └── NewerSchemaError the document was written by a later version
    ├── MediaError           an uploaded file is not what it should be
    │   └── MediaTooLargeError
    ├── RenderError          a render could not be finished
    │   └── RenderCancelled
    └── StorageError         what is kept on disk cannot be read or written
        ├── StorageFullError the disk is full
        ├── DamagedError     what is there cannot be understood
        └── HeldError        another program works with the data folder

Anything else that escapes is a bug of ours.
"""

from __future__ import annotations

import reprlib

_REPR = reprlib.Repr()
_REPR.maxlevel, _REPR.maxstring, _REPR.maxother, _REPR.maxlist = 3, 60, 60, 6


def brief(value: object, most: int = 80) -> str:
    """A value as messages show it: short however long or deep it is, in letters that any page can
    show."""
    text = _REPR.repr(value).encode("utf-8", "replace").decode()
    return text if len(text) <= most else text[: most - 3] + "..."


class YoungCometError(Exception):
    """Base of all; ``str()`` is a sentence for the person at the screen."""


class DocumentError(YoungCometError):
    """A value of the document or of an edit is not acceptable.

    ``field`` names the place in the document, e.g. ``layer 'Name' / opacity``.
    """

    def __init__(self, message: str, *, field: str = "") -> None:
        self.field = field
        super().__init__(f"{field}: {message}" if field else message)

    @classmethod
    def expected(cls, field: str, expected: str, got: object) -> DocumentError:
        """The usual form: what was expected there and what came."""
        return cls(f"expected {expected}, got {brief(got)}", field=field)


class NotFoundError(DocumentError):
    """An id names nothing in this document or store."""


class ConflictError(DocumentError):
    """The edit was made on an older state and the same thing has changed since."""


class InUseError(DocumentError):
    """The thing cannot be removed while others use it."""


class NewerSchemaError(DocumentError):
    """The document's schema version is later than this program knows."""


class MediaError(YoungCometError):
    """A file is corrupt, of a wrong type, or not allowed."""


class MediaTooLargeError(MediaError):
    """A file has more bytes or pixels than allowed."""


class RenderError(YoungCometError):
    """A render failed; the message says at which step."""


class RenderCancelled(RenderError):
    """A person stopped the render."""


class StorageError(YoungCometError):
    """What is kept on disk could not be read or written; the message says what to do."""


class StorageFullError(StorageError):
    """There is no room left on the disk. Nothing that was saved before is lost."""


class DamagedError(StorageError):
    """What is kept on disk is broken or was written by a later version."""


class HeldError(StorageError):
    """Another program has the data folder open for writing."""
