"""Bytes of people's files, kept so that a look into the database shows nothing of them.

Of a settings file only what is described is ever shown; everything else in it is nobody's business. The key is derived
(HKDF, RFC 5869) from the server's secret key, which isn't in the database; with another secret nothing can be read any more,
and agents show their files again.
"""

import os
import zlib
from functools import lru_cache

from cryptography.exceptions import InvalidTag
from cryptography.hazmat.primitives import hashes
from cryptography.hazmat.primitives.ciphers.aead import AESGCM
from cryptography.hazmat.primitives.kdf.hkdf import HKDF
from django.conf import settings

_NONCE = 12  # bytes


def seal(data: bytes, digest: str) -> bytes:
    """The bytes packed and sealed (AES-256-GCM), for their digest and no other."""
    nonce = os.urandom(_NONCE)
    return nonce + _key(settings.SECRET_KEY).encrypt(nonce, zlib.compress(data), digest.encode())


def unseal(sealed: bytes, digest: str) -> bytes | None:
    """The bytes again; None where they were sealed with another secret, or are damaged."""
    try:
        return zlib.decompress(_key(settings.SECRET_KEY).decrypt(sealed[:_NONCE], sealed[_NONCE:], digest.encode()))
    except (InvalidTag, ValueError, zlib.error):
        return None


def mark() -> str:
    """By what it is known which secret something was sealed with: 16 hexadecimal digits."""
    return _marked(settings.SECRET_KEY)


@lru_cache(maxsize=4)
def _marked(secret: str) -> str:
    return HKDF(algorithm=hashes.SHA256(), length=8, salt=None, info=b"amberkey files mark").derive(secret.encode()).hex()


@lru_cache(maxsize=4)
def _key(secret: str) -> AESGCM:
    derived = HKDF(algorithm=hashes.SHA256(), length=32, salt=None, info=b"amberkey files 1").derive(secret.encode())
    return AESGCM(derived)
