"""Every sentence by its code, in modules by what it is about. `say` fills in the arguments."""

from __future__ import annotations

from homepath.core.wording.catalogue import (
    errors,
    findings,
    kinds_of_records,
    kinds_of_web,
    notices,
    observations,
    reasons,
    steps,
)

MODULES = (errors, findings, kinds_of_records, kinds_of_web, notices, observations, reasons, steps)
SENTENCES = {code: template for module in MODULES for code, template in module.SENTENCES.items()}
