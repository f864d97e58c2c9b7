/** The channels of a kit's routing: channels, then buses, as players have them one behind another; and the main mix. */
import type { Channel, KitState } from '../../api/calls';

export const MAIN = 'main';

export const channelsOf = (kit: KitState): Channel[] => [...kit.head.channels, ...kit.head.buses];

/** All of them, the main mix last. */
export const allChannelsOf = (kit: KitState): Channel[] => [...channelsOf(kit), kit.head.main];
