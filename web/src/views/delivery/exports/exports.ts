/** What a card of an export is given: a way to begin it, and whether the kit has nothing to export. */
import type { Job } from '../../../api/calls';

export interface ExportProps {
  begin: (asking: Promise<Job>) => Promise<void>;
  empty: boolean;
}
