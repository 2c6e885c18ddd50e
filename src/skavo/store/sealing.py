"""The study's own pair of keys: phones wrap with its public half what opens their storage, so that the office can rescue it.

RSA-OAEP with SHA-256 (RFC 8017 § 7.1) and AES-256-GCM (NIST SP 800-38D), as browsers know them under the same names.
"""

from __future__ import annotations

import base64
import binascii
import hashlib
import os

from cryptography.exceptions import InvalidTag
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import padding, rsa
from cryptography.hazmat.primitives.ciphers.aead import AESGCM
from sqlalchemy import select
from sqlalchemy.orm import Session

from skavo.core.errors import DataError
from skavo.store.models import StudyKey

_BITS = 3072
KEY_BYTES, NONCE_BYTES = 32, 12
_OAEP = padding.OAEP(mgf=padding.MGF1(hashes.SHA256()), algorithm=hashes.SHA256(), label=None)


def new_private_key() -> rsa.RSAPrivateKey:
    return rsa.generate_private_key(public_exponent=65537, key_size=_BITS)


def key_of(session: Session, study_id: int) -> StudyKey:
    """The pair of keys of a study, made when it is first asked for."""
    known = session.scalar(select(StudyKey).where(StudyKey.study_id == study_id))
    if known is not None:
        return known
    private = new_private_key()
    public = private.public_key().public_bytes(
        serialization.Encoding.DER, serialization.PublicFormat.SubjectPublicKeyInfo
    )
    secret = private.private_bytes(
        serialization.Encoding.DER, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )
    made = StudyKey(study_id=study_id, public=base64.b64encode(public).decode(), private=secret)
    session.add(made)
    session.flush()
    return made


def fingerprint(public: str) -> str:
    """What a public key is told by, in 16 hexadecimal digits: in the pairing picture, and read out over the telephone."""
    return hashlib.sha256(decoded(public)).hexdigest()[:16]


def unwrap(key: StudyKey, wrapped: str) -> bytes:
    """The storage key that a phone wrapped for the study; raise DataError where it was wrapped for another one."""
    private = serialization.load_der_private_key(key.private, password=None)
    assert isinstance(private, rsa.RSAPrivateKey)
    try:
        secret = private.decrypt(decoded(wrapped), _OAEP)
    except ValueError:
        secret = b""
    if len(secret) != KEY_BYTES:
        raise DataError("other_study", "This was sealed for another study, or was damaged on its way.")
    return secret


def wrap_for(public: str, secret: bytes) -> str:
    """`secret` for whoever holds the private half of `public`; raise DataError where that is no such key."""
    try:
        key = serialization.load_der_public_key(decoded(public))
    except ValueError:
        key = None
    if not isinstance(key, rsa.RSAPublicKey) or key.key_size < 2048:
        raise DataError("wrong_request", "This is no public key of at least 2048 bits.")
    return base64.b64encode(key.encrypt(secret, _OAEP)).decode()


def unseal(secret: bytes, sealed: bytes) -> bytes:
    """What a phone sealed with its storage key: the key's generation, the nonce, then the ciphertext with its tag."""
    try:
        return AESGCM(secret).decrypt(sealed[1 : 1 + NONCE_BYTES], sealed[1 + NONCE_BYTES :], None)
    except (InvalidTag, ValueError):
        raise DataError("damaged", "Something sealed was damaged on its way: it does not open with its key.") from None


def seal(secret: bytes, generation: int, plain: bytes) -> bytes:
    """Sealed as a phone seals: whoever opens it knows that it came from somebody with the same key."""
    nonce = os.urandom(NONCE_BYTES)
    return bytes([generation]) + nonce + AESGCM(secret).encrypt(nonce, plain, None)


def check_of(secret: bytes) -> str:
    """By what a phone's storage key is known again; it says nothing about the key."""
    return hashlib.sha256(secret).hexdigest()


def decoded(text: str) -> bytes:
    """Bytes written in base64; raise DataError where they are not."""
    try:
        return base64.b64decode(text, validate=True)
    except (binascii.Error, ValueError):
        raise DataError("wrong_request", "A key has to be written in base64.") from None
