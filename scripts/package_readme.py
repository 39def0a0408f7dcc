"""The README as a package index shows it: without pictures, and with links that work away from the repository."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

from hatchling.metadata.plugin.interface import MetadataHookInterface  # type: ignore[import-not-found]

HOME = "https://homepath.example/"


class PackageReadme(MetadataHookInterface):  # type: ignore[misc]
    """Called by the build."""

    def update(self, metadata: dict[str, Any]) -> None:
        """Fill in the field `readme`."""
        text = (Path(self.root) / "README.md").read_text(encoding="utf-8")
        text = re.sub(r"^(?:!\[|\|).*\n", "", text, flags=re.M)
        text = re.sub(r"\]\((?!https?:)", f"]({HOME}", text)
        metadata["readme"] = {"content-type": "text/markdown", "text": text}
