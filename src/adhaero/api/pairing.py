"""The pairing word: without it another device on the network reads nothing and changes nothing."""

import hashlib
import hmac
import json
import os
import secrets
import threading
import time
from pathlib import Path
from typing import Final

COOKIE: Final = "adhaero-device"
_LETTERS: Final = "abcdefghjkmnpqrstuvwxyz23456789"
_WORD_LENGTH: Final = 8
_MOST_WRONG: Final = 5
_WAIT_S: Final = 60.0


class Pairing:
    """The word of a shop, kept beside its file so that paired devices stay paired; another word sends all away.

    Parameters
    ----------
    path : where the word is kept, for this user's eyes only.
    """

    def __init__(self, path: Path) -> None:
        self._path = path
        self._lock = threading.Lock()
        self._wrong: list[float] = []
        kept = self._read()
        if kept is None:
            self.renew()
        else:
            self.word, self._secret = kept

    def _read(self) -> tuple[str, str] | None:
        try:
            kept = json.loads(self._path.read_text(encoding="utf-8"))
            return str(kept["word"]), str(kept["secret"])
        except (OSError, ValueError, KeyError, TypeError):
            return None

    def renew(self) -> None:
        """Choose another word; every device that was paired is sent away. Raises `OSError`."""
        with self._lock:
            self.word = "".join(secrets.choice(_LETTERS) for _ in range(_WORD_LENGTH))
            self._secret = secrets.token_hex(32)
            text = json.dumps({"word": self.word, "secret": self._secret})
            self._path.unlink(missing_ok=True)
            with os.fdopen(os.open(self._path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "w") as file:
                file.write(text)

    def pair(self, typed: str) -> str | None:
        """Return the token of a device that knows the word; None for a wrong word, or after too many of them."""
        now = time.monotonic()
        with self._lock:
            self._wrong = [one for one in self._wrong if now - one < _WAIT_S]
            if len(self._wrong) >= _MOST_WRONG:
                return None
            if not hmac.compare_digest("".join(typed.split()).lower().encode(), self.word.encode()):
                self._wrong.append(now)
                return None
            return self._token()

    def knows(self, token: str) -> bool:
        """Return whether a token is that of a paired device."""
        with self._lock:
            return hmac.compare_digest(token.encode(), self._token().encode())

    def _token(self) -> str:
        return hashlib.sha256(f"adhaero device {self._secret}".encode()).hexdigest()
