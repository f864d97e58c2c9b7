"""What a check of the studio found."""

import logging
from collections.abc import Callable, Iterator
from dataclasses import asdict, dataclass, field
from pathlib import Path
from typing import Any, Literal

from drumcore.recordings.files import Cancelled

Kind = Literal["damaged", "lost", "untidy"]
Progress = Callable[[int, int], None]


@dataclass(frozen=True)
class Trouble:
    """One problem, in a sentence that names it and says what to do. `damaged` can be repaired or is set aside, `lost`
    is gone from this studio, `untidy` does no harm. `repaired`: it was put right.
    """

    kind: Kind
    said: str
    repaired: bool = False


@dataclass
class CheckReport:
    """`looked_at` counts what was checked, by name."""

    looked_at: dict[str, int] = field(default_factory=dict)
    troubles: list[Trouble] = field(default_factory=list)

    @property
    def sound(self) -> bool:
        """Whether nothing is wrong any more; untidiness does not count."""
        return all(trouble.repaired or trouble.kind == "untidy" for trouble in self.troubles)

    def counts(self, what: str) -> None:
        self.looked_at[what] = self.looked_at.get(what, 0) + 1

    def as_json(self) -> dict[str, Any]:
        return {"looked_at": self.looked_at, "troubles": [asdict(trouble) for trouble in self.troubles]}


@dataclass
class Check:
    """A running check: its folder, whether it repairs, its backup, and its progress."""

    data: Path
    repair: bool
    source: Path | None
    progress: Progress
    report: CheckReport = field(default_factory=CheckReport)

    def found(self, kind: Kind, said: str, repair: Callable[[], bool] | None = None) -> None:
        """Reports a trouble, and repairs it if that was asked for and is possible: `repair` returns whether it was."""
        repaired = self.repair and repair is not None and repair()
        self.report.troubles.append(Trouble(kind, said, repaired))

    def each(self, what: str, files: list[Path]) -> Iterator[Path]:
        for file in files:
            self.report.counts(what)
            self.progress(0, 0)
            yield file

    def sections(self, sections: dict[str, Callable[["Check"], None]]) -> None:
        """Runs several checks one after another; one that fails unexpectedly ends alone and says so."""
        for said, section in sections.items():
            try:
                section(self)
            except (Cancelled, OSError):
                raise
            except Exception as error:
                logging.getLogger(__name__).warning("checking %s", said, exc_info=True)
                why = (
                    f"Of {said} not everything can be read ({type(error).__name__}); restore the records from a backup."
                )
                self.found("damaged", why)
