"""TSIG keys as nameservers keep them: `key "name" { algorithm hmac-sha256; secret "…"; };`."""

from __future__ import annotations

import base64
import binascii
import re
from dataclasses import dataclass, field

from homepath.core.dns.names import BadName, Name, absolute
from homepath.core.message import msg, reason
from homepath.core.model.problems import BadInput, Problem

ALGORITHMS = ("hmac-sha256", "hmac-sha384", "hmac-sha512", "hmac-sha224", "hmac-sha1", "hmac-md5")


@dataclass(frozen=True, slots=True)
class TsigKey:
    """A shared secret of RFC 8945. It never shows itself."""

    name: Name
    algorithm: str
    secret: bytes = field(repr=False)


def read_key_file(text: str, file: str) -> TsigKey:
    """Read the one key of a key file. Raises BadInput; no message holds any part of the secret."""
    # comments go, but not inside quotes: base64 text may contain //
    bare = re.sub(r'("[^"\n]*")|/\*.*?\*/|(?://|#)[^\n]*', lambda match: match[1] or "", text, flags=re.S)
    block = re.search(r'\bkey\s+"?([^\s"{]+)"?\s*\{([^}]*)\}', bare)
    if block is None:
        raise BadInput(Problem(msg("key-file.read-key-file"), file, hint=msg("key-file.read-key-file.hint")))
    settings = dict(re.findall(r'(algorithm|secret)\s+"?([^\s";]+)"?\s*;', block[2]))
    line = text[: text.find("key")].count("\n") + 1
    if missing := [word for word in ("algorithm", "secret") if word not in settings]:
        raise BadInput(Problem(msg("key-file.read-key-file-2", missing=missing[0]), file, line, missing[0]))
    algorithm = settings["algorithm"].lower().removesuffix(".").removesuffix(".sig-alg.reg.int")
    if algorithm not in ALGORITHMS:
        raise BadInput(
            Problem(msg("key-file.read-key-file-3"), file, line, "algorithm", algorithm, ", ".join(ALGORITHMS))
        )
    try:
        return TsigKey(absolute(block[1]), algorithm, base64.b64decode(settings["secret"], validate=True))
    except BadName as error:
        raise BadInput(Problem(reason(error), file, line, "key")) from error
    except (binascii.Error, ValueError) as error:
        raise BadInput(Problem(msg("key-file.read-key-file-4"), file, line, "secret")) from error
