/** Where somebody looks: kept from step to step, and never at what is not there. */
import { beforeEach, describe, expect, it } from 'vitest';
import type { KitState, Piece } from '../../api/calls';
import { useKit } from './kitStore';
import { lookedAt, usePlace } from './place';

const piece = (id: string, articulations: Record<string, string[]>) =>
  ({
    id,
    articulations: Object.entries(articulations).map(([name, takes]) => ({
      id: `${id}/${name}`,
      takes: takes.map((take) => ({ id: take })),
    })),
  }) as unknown as Piece;
const kick = piece('kick', { centre: ['t1', 't2'] });
const snare = piece('snare', { centre: ['t1', 't2'], rimshot: ['t1'] });
const shown = () => {
  const { piece: at, articulation, takeId } = lookedAt();
  return [at?.id, articulation?.id, takeId];
};
const { lookAt } = usePlace.getState();

beforeEach(() => {
  usePlace.setState({ piece: null, articulation: null, take: null, times: 0 });
  useKit.setState({
    pieces: new Map([kick, snare].map((each) => [each.id, each])),
    kit: { order: ['snare', 'kick'] } as unknown as KitState,
  });
});

describe('what is looked at', () => {
  it('is the first piece and its first articulation until something is chosen', () => {
    expect(shown()).toEqual(['snare', 'snare/centre', null]);
    useKit.setState({ pieces: new Map(), kit: null });
    expect(shown()).toEqual([undefined, undefined, null]);
  });

  it('is an articulation with its piece, and another piece forgets the articulation and the take', () => {
    lookAt({ articulation: 'snare/rimshot', take: 't1' });
    expect(shown()).toEqual(['snare', 'snare/rimshot', 't1']);
    lookAt({ piece: 'snare' });
    expect(shown()).toEqual(['snare', 'snare/rimshot', 't1']);
    lookAt({ piece: 'kick' });
    expect(shown()).toEqual(['kick', 'kick/centre', null]);
  });

  it('keeps the take of an articulation, forgets it with the articulation, and lets go of it when told', () => {
    lookAt({ articulation: 'kick/centre', take: 't2' });
    lookAt({ articulation: 'kick/centre' });
    expect(shown()).toEqual(['kick', 'kick/centre', 't2']);
    lookAt({ take: null });
    expect(shown()).toEqual(['kick', 'kick/centre', null]);
    lookAt({ articulation: 'kick/centre', take: 't2' });
    lookAt({ articulation: 'snare/centre' });
    expect(shown()).toEqual(['snare', 'snare/centre', null]);
  });

  it('is never a piece, an articulation or a take that has gone', () => {
    lookAt({ articulation: 'snare/rimshot', take: 't1' });
    useKit.setState({ pieces: new Map([['kick', kick]]) });
    useKit.setState({ kit: { order: ['kick'] } as unknown as KitState });
    expect(shown()).toEqual(['kick', 'kick/centre', null]);
    lookAt({ articulation: 'kick/centre', take: 't9' });
    expect(shown()).toEqual(['kick', 'kick/centre', null]);
  });

  it('counts being chosen again, which scrolls to it again', () => {
    lookAt({ piece: 'kick' });
    lookAt({ piece: 'kick' });
    expect(usePlace.getState().times).toBe(2);
  });
});
