/** For unit tests: channels, a kit around them, and the core's default values. */
import type { Channel, KitState, Rules } from '../../api/calls';

export const channelOf = (id: string, more: Partial<Channel> = {}): Channel => ({
  id,
  name: id,
  width: 'mono',
  level_db: 0,
  pan: 0,
  muted: false,
  output: 0,
  side: 'both',
  treated: true,
  bus: '',
  may_enter: [],
  sends: [],
  treatments: [],
  space: null,
  feeds: [],
  ...more,
});

export const deskKit = (id: string, ...channels: Channel[]) =>
  ({
    id,
    version: 3,
    head: {
      channels,
      buses: [],
      groups: [],
      main: channelOf('main', { width: 'stereo' }),
      outputs: [{ number: 1, name: 'Main', width: 'stereo' }],
      treated: true,
      rate_hz: 48_000,
    },
  }) as unknown as KitState;

export const FIRST: Rules['treatments'] = {
  eq: { kind: 'eq', on: true, bands: [] },
  compressor: {
    kind: 'compressor',
    on: true,
    threshold_db: -18,
    ratio: 3,
    knee_db: 6,
    attack_ms: 10,
    release_ms: 120,
    make_up_db: 0,
    mix: 1,
    low_cut_hz: null as unknown as number,
  },
  drive: { kind: 'drive', on: true, drive_db: 6, asymmetry: 0, level_matched: true, mix: 1 },
  band: { kind: 'peak', hz: 1000, gain_db: 0, q: 1, resonance_db: -3.01 },
};
