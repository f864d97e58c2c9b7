/** Whose curve is looked at, and which edit changes it. */
import { describe, expect, it, vi } from 'vitest';
import type { Articulation, Curve, KitState, Piece } from '../../api/calls';

const straight = { nodes: [] } as unknown as Curve;
vi.mock('../../app/kit/rules', () => ({ rules: () => ({ straight }) }));
const { whose } = await import('./scopes');

const inForce = (from: string) => ({ curve: { nodes: [from] }, own: false, from }) as unknown as Piece['curve'];
const articulation = { id: 'snare/centre', name: 'centre', curve: inForce('articulation') } as unknown as Articulation;
const piece = { id: 'snare', name: 'Snare', curve: inForce('piece') } as unknown as Piece;
const kit = {
  head: {
    curve: inForce('all'),
    unknown_input: inForce('unknown'),
    inputs: [{ known: { id: 'pads' }, curve: inForce('pads') }],
  },
} as unknown as KitState;
const pads = { id: 'pads', name: 'Pads' };
const curve = { nodes: [1] } as unknown as Curve;

describe('whose curve', () => {
  it('is an input’s, one that the kit does not know taking what an unknown one has', () => {
    const known = whose('input', { piece, articulation }, kit, pads);
    expect(known).toMatchObject({ ...inForce('pads'), title: 'Input Pads', entering: false });
    expect(known.edit(curve)).toEqual({
      kind: 'set_curve',
      target: null,
      input: 'pads',
      input_name: 'Pads',
      curve,
    });
    expect(whose('input', { piece, articulation }, kit, { id: 'new', name: 'New' })).toMatchObject(inForce('unknown'));
  });

  it('is a piece’s or an articulation’s, entered by what has passed the first curve; taking it away leaves none', () => {
    const ofPiece = whose('piece', { piece, articulation }, kit, pads);
    expect(ofPiece).toMatchObject({ ...inForce('piece'), title: 'Snare', entering: true });
    expect(ofPiece.edit(null)).toEqual({ kind: 'set_curve', target: 'snare', curve: null });
    const ofArticulation = whose('articulation', { piece, articulation }, kit, pads);
    expect(ofArticulation).toMatchObject({ ...inForce('articulation'), title: 'Snare · centre', entering: true });
    expect(ofArticulation.edit(curve)).toEqual({ kind: 'set_curve', target: 'snare/centre', curve });
  });

  it('is everybody’s where nothing narrower is there; that is never taken away but made straight', () => {
    for (const found of [
      whose('all', { piece, articulation }, kit, pads),
      whose('articulation', { piece, articulation: null }, kit, pads),
      whose('piece', { piece: null, articulation: null }, kit, pads),
    ]) {
      expect(found).toMatchObject({ ...inForce('all'), scope: 'all', title: 'All inputs', entering: false });
      expect(found.edit(null)).toEqual({ kind: 'set_curve', target: null, curve: straight });
    }
  });
});
