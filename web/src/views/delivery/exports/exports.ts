/** The props of an export's card: a function that starts it, and whether the kit has nothing to export. */
import type { Job } from '../../../api/calls';

export interface ExportProps {
  begin: (asking: Promise<Job>) => Promise<void>;
  empty: boolean;
}
