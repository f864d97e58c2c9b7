/** The channels of a kit: channels, then buses, in the players' order; and the main mix. */
import type { Channel, KitState } from '../../api/calls';

export const MAIN = 'main';

export const channelsOf = (kit: KitState): Channel[] => [...kit.head.channels, ...kit.head.buses];

/** All of them, the main mix last. */
export const allChannelsOf = (kit: KitState): Channel[] => [...channelsOf(kit), kit.head.main];
