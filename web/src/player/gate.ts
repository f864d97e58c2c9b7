/** Filters cross-talk and doubles. The twin of drumcore/touch/gate.py. */
import type { PlayInput } from '../api/calls';

export class Gate {
  private last = new Map<number, { time: number; velocity: number }>();

  constructor(private input: PlayInput) {}

  /** "" for a strike that plays, else the reason. Ignored strikes are not used to judge later ones. */
  judge(note: number, velocity: number, time: number): '' | 'cross_talk' | 'double' {
    const before = this.last.get(note);
    const doubles = this.input.doubles_s ?? 0;
    if (before && doubles) {
      const since = time - before.time;
      if (since >= 0 && since <= doubles && velocity <= before.velocity) return 'double';
    }
    for (const rule of this.input.cross_talk ?? []) {
      if (rule.note !== note || velocity > rule.up_to) continue;
      const struck = this.last.get(rule.after);
      if (!struck || velocity >= struck.velocity) continue;
      const since = time - struck.time;
      if (since >= 0 && since <= rule.within_s) return 'cross_talk';
    }
    this.last.set(note, { time, velocity });
    return '';
  }
}
