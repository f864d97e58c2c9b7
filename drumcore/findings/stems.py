"""Findings about rendered stems."""

import math
from collections.abc import Iterator, Sequence

from drumcore.edits.channels import SetChannel
from drumcore.findings.finding import Finding, FindingLevel, Where, fix
from drumcore.kit.flow import channels_and_buses
from drumcore.kit.values import LEAST_DB, MAIN, Channel, Kit
from drumcore.routing.hosts import plain_name
from drumcore.value import Value

MAIN_OUTPUT = 1


class StemPeak(Value):
    """What was measured of one stem: its output, its peak, and how many samples exceeded full scale."""

    output: int
    peak_dbfs: float
    clipped_samples: int


def clipping(kit: Kit, stems: Sequence[StemPeak], rendered: Kit) -> Iterator[Finding]:
    """Stems that clipped when `rendered` was rendered, unless everything at their output has been lowered since."""
    for stem in stems:
        now, then = _leaving(kit, stem.output), _leaving(rendered, stem.output)
        if not stem.clipped_samples or not now:
            continue
        before = {channel.id: channel.level_db for channel in then}
        if all(before.get(channel.id, math.inf) - channel.level_db > stem.peak_dbfs for channel in now):
            continue
        by_db = math.ceil(10.0 * stem.peak_dbfs + 1.0) / 10.0
        name = next((o.name for o in kit.routing.outputs if o.number == stem.output), "") or plain_name(stem.output)
        lower = [SetChannel(channel=c.id, level_db=max(LEAST_DB, c.level_db - by_db)) for c in now]
        yield Finding(
            rule="stem_clips",
            level=FindingLevel.WORTH_A_LOOK,
            title=f"The stem of {name} clips",
            sentence=f"In the stems rendered last, {name} peaks at +{stem.peak_dbfs:.1f} dBFS: {stem.clipped_samples:,} "
            f"{'sample is' if stem.clipped_samples == 1 else 'samples are'} cut off. Lower it, or render 32-bit files.",
            place=name,
            where=Where(step="delivery", channel=now[0].id),
            fixes=(fix(f"Lower {name} by {by_db:.1f} dB", *lower),),
        )


def _leaving(kit: Kit, output: int) -> list[Channel]:
    """The channels and buses that sound at an output; for output 1, main."""
    there = [kit.routing.main] if output == MAIN_OUTPUT else channels_and_buses(kit.routing)
    return [c for c in there if (c.id == MAIN or c.output == output) and not c.muted and c.level_db > LEAST_DB]
