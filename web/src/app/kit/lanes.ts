/** The lanes of a kit's routing: channels, then buses, as players have them one behind another; and the main mix. */
import type { Channel, KitState } from '../../api/calls';

export const MAIN = 'main';

export const lanesOf = (kit: KitState): Channel[] => [...kit.head.channels, ...kit.head.buses];

/** All of them, the main mix last. */
export const allLanesOf = (kit: KitState): Channel[] => [...lanesOf(kit), kit.head.main];
