/** The button that plays a preview, or says why there is none yet. */
import { Pause, Play } from 'lucide-react';
import { useEffect, useMemo } from 'react';
import type { PreviewItem, PreviewShown } from '../../api/calls';
import { isHeard, keyOfItem, useHearing, usePreviews, want } from './hearing';

export function usePreview(item: PreviewItem | null): PreviewShown | undefined {
  const key = item ? keyOfItem(item) : '';
  const { kind, id, version = 0 } = item ?? {};
  const steady = useMemo(() => (kind && id ? { kind, id, version } : null), [kind, id, version]);
  useEffect(() => (steady ? want(steady) : undefined), [steady]);
  return usePreviews((s) => s.known.get(key));
}

/** Why a preview cannot be heard. */
export function whyNot(preview: PreviewShown | undefined): string {
  if (!preview) return 'Loading preview';
  if (preview.state === 'none') return preview.said;
  if (preview.away) return 'The preview is made when the worker is back';
  if (preview.state === 'settling') return 'The preview is made once you stop editing';
  return preview.state === 'making' ? 'The preview is being made' : '';
}

interface HearProps {
  item: PreviewItem;
  name: string;
  large?: boolean;
  tabIndex?: number;
  /** Continue at the position of the preview heard before. */
  keepPlace?: boolean;
  says?: string;
}

export function Hear({ item, name, large = false, tabIndex, keepPlace = false, says }: HearProps) {
  const preview = usePreview(item);
  const heard = useHearing((s) => isHeard(s, item));
  const play = useHearing((s) => s.play);
  const stop = useHearing((s) => s.stop);
  const there = preview?.state === 'ready' || preview?.state === 'stale';
  const why = whyNot(preview);
  const label = heard ? `Stop ${name}` : there ? `Hear ${name}` : `${name} has no preview yet: ${why}`;
  return (
    <button
      type="button"
      aria-label={label}
      title={
        there
          ? heard
            ? 'Stop'
            : preview.state === 'stale'
              ? 'Play the last preview; a new one is being made'
              : 'Play preview'
          : why
      }
      aria-disabled={!there}
      tabIndex={tabIndex}
      data-preview={preview?.state ?? 'unknown'}
      className={`grid shrink-0 place-items-center rounded-full border ${large ? 'h-9 w-9 border-zest bg-zest text-on-zest' : 'h-7 w-7 border-line bg-card hover:border-edge'} ${there ? '' : 'opacity-50'} ${heard && !large ? 'border-plum text-plum' : ''} ${says ? 'w-auto! px-2.5 text-small font-semibold' : ''}`}
      onClick={(event) => {
        event.stopPropagation();
        if (heard) stop();
        else if (there) void play(preview, name, keepPlace);
      }}
    >
      {says ??
        (heard ? (
          <Pause size={large ? 15 : 12} fill="currentColor" />
        ) : (
          <Play size={large ? 15 : 12} fill="currentColor" className="ml-0.5" />
        ))}
    </button>
  );
}
