/** Calibrating the pedal: its controller, its ends, whether it is reversed. */
import { useEffect, useState } from 'react';
import { type Change, type KitState, post } from '../../api/calls';
import { useKit } from '../../app/kit/kitStore';
import { rules, within } from '../../app/kit/rules';
import { type Message, onMessage } from '../../app/playing/door';
import { inputName, useInputs } from '../../app/playing/inputs';
import { useMidi } from '../../app/playing/midi';
import { Typed } from '../../ui/Typed';

const byte = (value: number) => within('input.controller', Math.round(value));

/** Close the pedal, open it, done: finds its controller, its ends, and whether it is reversed. */
export function Calibrate() {
  const kit = useKit((s) => s.kit) as KitState;
  const edit = useKit((s) => s.edit);
  const chosen = useInputs((s) => s.chosen);
  const kits = useInputs((s) => s.kits);
  const devices = useMidi((s) => s.devices);
  const [moves, setMoves] = useState<Message[] | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const name = inputName(chosen, kits, devices);
  const known = kit.head.inputs.find((input) => input.known.id === chosen)?.known;
  const pedal = known ?? rules().pedal;
  const { controller, closed_at, open_at } = rules().pedal;
  const usual = pedal.controller === controller && pedal.closed_at === closed_at && pedal.open_at === open_at;
  const set = (change: Change<'set_input'>) => void edit({ kind: 'set_input', input: chosen, name, ...change });
  const listening = moves !== null;
  useEffect(() => {
    if (!listening) return;
    return onMessage((message) => {
      if (message.input === chosen && message.kind === 'controller') setMoves((all) => [...(all ?? []), message]);
    });
  }, [listening, chosen]);
  const finish = async () => {
    const heard = (moves ?? []).map((m) => ({ time_ms: m.at, controller: m.number, value: m.value }));
    setMoves(null);
    try {
      const found = await post(
        '/api/pads/calibrate',
        {},
        {
          moves: heard,
        },
      );
      setTrouble(null);
      await edit({ kind: 'set_input', input: chosen, name, ...found });
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };
  const values = moves?.map((m) => m.value) ?? [];
  return (
    <div className="card grid gap-1.5 px-3 py-2.5 text-small">
      <b className="font-semibold">The pedal of {name}</b>
      <span className="text-soft" data-testid="calibrated">
        CC{' '}
        <Typed label="Controller of the pedal" value={pedal.controller} onType={(v) => set({ controller: byte(v) })} />:
        closed at{' '}
        <Typed
          label="Value with the pedal closed"
          value={pedal.closed_at}
          onType={(v) => set({ closed_at: byte(v) })}
        />
        , open at{' '}
        <Typed label="Value with the pedal open" value={pedal.open_at} onType={(v) => set({ open_at: byte(v) })} />
        {pedal.closed_at > pedal.open_at ? ', reversed' : ''}
        {usual ? ', as most send it.' : '.'}
      </span>
      {listening && (
        <p className="text-plum" role="status">
          Close the pedal, then open it all the way.{' '}
          {values.length > 0 && (
            <span className="num">
              {Math.min(...values)}–{Math.max(...values)}
            </span>
          )}
        </p>
      )}
      {trouble && (
        <p role="alert" className="text-zest-text">
          {trouble}
        </p>
      )}
      <span className="flex flex-wrap gap-1.5">
        {listening ? (
          <>
            <button type="button" className="btn btn-go" onClick={() => void finish()}>
              It is open now
            </button>
            <button type="button" className="btn" onClick={() => setMoves(null)}>
              Cancel
            </button>
          </>
        ) : (
          <button
            type="button"
            className="btn"
            onClick={() => {
              setTrouble(null);
              setMoves([]);
            }}
          >
            Calibrate
          </button>
        )}
        {!listening && (
          <button
            type="button"
            className="btn"
            onClick={() => set({ closed_at: pedal.open_at, open_at: pedal.closed_at })}
          >
            Reverse
          </button>
        )}
      </span>
    </div>
  );
}
