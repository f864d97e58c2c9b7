/** Plays and stops the current groove from inside a dialog. */

import { transport } from '../kit/kitStore';
import { useTransport } from './grooves';

export function PlayGroove({ className = 'btn' }: { className?: string }) {
  const running = useTransport(() => transport.running);
  const name = useTransport(() => transport.groove?.name ?? '');
  if (!name) return null;
  return (
    <button type="button" className={className} onClick={() => transport.toggle()}>
      {running ? 'Stop' : 'Play'} {name}
    </button>
  );
}
