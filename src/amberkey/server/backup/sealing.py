"""A stream sealed with a passphrase: nobody reads it without, and nobody changes, cuts or reorders it unseen.

The key comes from the passphrase by scrypt (RFC 7914). The stream is cut into pieces, each sealed by AES-256-GCM; the nonce
holds the number of the piece and whether it is the last one, so that a file that was cut short is known as such.
"""

import base64
import json
import os
import struct
from typing import BinaryIO

from cryptography.exceptions import InvalidTag
from cryptography.hazmat.primitives.ciphers.aead import AESGCM
from cryptography.hazmat.primitives.kdf.scrypt import Scrypt

from amberkey.server.backup.errors import BackupError

MAGIC = b"amberkey-backup 1\n"
PIECE = 256 * 1024
SHORTEST = 12  # signs of a passphrase
_COST = 2**15  # of scrypt; about 32 MB and a tenth of a second
_LONGEST_HEAD = 4096


def _key(passphrase: str, salt: bytes, cost: int) -> AESGCM:
    return AESGCM(Scrypt(salt=salt, length=32, n=cost, r=8, p=1).derive(passphrase.encode()))


def _nonce(prefix: bytes, number: int, last: bool) -> bytes:
    return prefix + struct.pack(">I?", number, last)


class Sealer:
    """A file to write to; nothing is whole before it is closed. Raises BackupError for a passphrase that is too short."""

    def __init__(self, file: BinaryIO, passphrase: str) -> None:
        if len(passphrase) < SHORTEST:
            raise BackupError(f"The passphrase has {len(passphrase)} signs. Choose one of {SHORTEST} or more.")
        salt, self._prefix = os.urandom(16), os.urandom(7)
        head = {
            "kdf": "scrypt",
            "n": _COST,
            "salt": base64.b64encode(salt).decode(),
            "prefix": base64.b64encode(self._prefix).decode(),
        }
        self._head = MAGIC + json.dumps(head).encode() + b"\n"
        self._file, self._held, self._number = file, bytearray(), 0
        self._aes = _key(passphrase, salt, _COST)
        file.write(self._head)

    def write(self, data: bytes) -> int:
        self._held += data
        while len(self._held) > PIECE:
            self._put(bytes(self._held[:PIECE]), last=False)
            del self._held[:PIECE]
        return len(data)

    def close(self) -> None:
        self._put(bytes(self._held), last=True)
        self._held.clear()

    def _put(self, data: bytes, *, last: bool) -> None:
        sealed = self._aes.encrypt(_nonce(self._prefix, self._number, last), data, self._head)
        self._file.write(struct.pack(">I", len(sealed)) + sealed)
        self._number += 1


class Opener:
    """A sealed file to read from. Raises BackupError for a wrong passphrase, and wherever the file is not as it was written."""

    def __init__(self, file: BinaryIO, passphrase: str) -> None:
        self._file, self._held, self._number, self._ended = file, bytearray(), 0, False
        if file.read(len(MAGIC)) != MAGIC:
            raise BackupError("This is no backup of Amber Key. Choose another file.")
        line = file.readline(_LONGEST_HEAD)
        try:
            head = json.loads(line)
            salt, self._prefix = (base64.b64decode(head[name], validate=True) for name in ("salt", "prefix"))
            cost = int(head["n"])
        except (ValueError, KeyError, TypeError) as error:
            raise self._damaged() from error
        if not line.endswith(b"\n") or len(self._prefix) != 7 or cost not in (2**14, 2**15, 2**16, 2**17):
            raise self._damaged()
        self._head = MAGIC + line
        self._aes = _key(passphrase, salt, cost)
        self._take()

    def read(self, size: int = -1) -> bytes:
        while not self._ended and (size < 0 or len(self._held) < size):
            self._take()
        wanted = len(self._held) if size < 0 else min(size, len(self._held))
        data = bytes(self._held[:wanted])
        del self._held[:wanted]
        return data

    def finish(self) -> None:
        """Hold that the file ends here, as it was written."""
        while not self._ended:
            self._take()
        if self._file.read(1):
            raise self._damaged()

    def _take(self) -> None:
        size = self._file.read(4)
        if len(size) < 4 or not 16 <= struct.unpack(">I", size)[0] <= PIECE + 16:
            raise self._damaged()
        sealed = self._file.read(struct.unpack(">I", size)[0])
        if len(sealed) < struct.unpack(">I", size)[0]:
            raise self._damaged()
        for last in (False, True):
            try:
                self._held += self._aes.decrypt(_nonce(self._prefix, self._number, last), sealed, self._head)
            except InvalidTag:
                continue
            self._number += 1
            self._ended = last
            return
        if self._number == 0:
            raise BackupError("The passphrase is wrong, or the backup is damaged at its beginning. Nothing was restored.")
        raise self._damaged()

    def _damaged(self) -> BackupError:
        at = self._number * PIECE / 1048576
        return BackupError(
            f"The backup is damaged or cut short, {at:.1f} MB in. Nothing was restored; take another copy of it."
        )
