"""Printing that several verbs share."""

import json
import sys
from typing import Any

from drumcore.findings.finding import Finding

DONE, FOUND_WRONG = 0, 1


def say(text: str) -> None:
    print(text, file=sys.stderr)


def print_json(document: Any) -> None:
    json.dump(document, sys.stdout, ensure_ascii=False, indent=1)
    print()


def finding_document(finding: Finding) -> dict[str, Any]:
    return {
        "rule": finding.rule,
        "level": finding.level.value,
        "place": finding.place,
        "sentence": finding.sentence,
        "fixes": [fix.model_dump(mode="json", exclude_none=True) for fix in finding.fixes],
    }


def print_findings(findings: list[Finding]) -> None:
    for finding in findings:
        print(f"{finding.level.value.replace('_', ' '):13} {finding.title}. {finding.sentence}")
