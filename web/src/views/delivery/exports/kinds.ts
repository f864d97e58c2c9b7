/** The exports, each with a card of its own, in the order they are shown. */
import type { ComponentType } from 'react';
import type { ExportProps } from './exports';
import { KitFile } from './KitFile';
import { Stems } from './Stems';

export const EXPORTS: ComponentType<ExportProps>[] = [Stems, KitFile];
