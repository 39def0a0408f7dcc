"""Findings, as every contract holds them."""

from __future__ import annotations

from typing import Any

from homepath.core.model.findings import Finding

Json = dict[str, Any]


def finding_json(finding: Finding) -> Json:
    return {
        "code": finding.code,
        "level": finding.level,
        "name": finding.name,
        "type": finding.type,
        "message": finding.message,
        "cure": finding.cure,
        "standard": finding.standard,
    }
