/** Keys that work everywhere: steps, undo, the groove, stop sound, and the pads of the simulated kit. */
import { useEffect } from 'react';
import { useNavigate, useParams } from 'react-router';
import { changeSides, useComparing } from '../comparing/comparing';
import { transport, useKit } from '../kit/kitStore';
import { useInputs } from '../playing/inputs';
import { movePedal, strikePad } from '../playing/simulatedKits';
import { STEPS } from './steps';

const NO_TEXT = ['checkbox', 'radio', 'range', 'button', 'file', 'color', 'submit', 'reset'];

/** Whether keys type text here. Checkboxes do not; they only use the space bar. */
export const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  (target.isContentEditable ||
    /^(TEXTAREA|SELECT)$/.test(target.tagName) ||
    (target instanceof HTMLInputElement && !NO_TEXT.includes(target.type)));

/** Whether the space bar does something here already, as on a button or list; on a slider it does not. */
const takesSpace = (target: EventTarget | null) =>
  target instanceof HTMLElement &&
  target.closest('button, a, input, [role="option"], [role="menuitem"], [role="switch"]') !== null;

export function useKeyboard() {
  const navigate = useNavigate();
  const { kitId } = useParams();
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      const command = event.ctrlKey || event.metaKey;
      if (typing(event.target) || (!command && document.querySelector('[role="dialog"]'))) return;
      if (event.altKey && !command && /^Digit[1-7]$/.test(event.code)) {
        event.preventDefault();
        navigate(`/kits/${kitId}/${STEPS[Number(event.code[5]) - 1]?.id}`);
      } else if (command && event.code === 'KeyZ') {
        event.preventDefault();
        void (event.shiftKey ? useKit.getState().redo() : useKit.getState().undo());
      } else if (command && event.code === 'KeyY') {
        event.preventDefault();
        void useKit.getState().redo();
      } else if (event.code === 'Space' && !takesSpace(event.target)) {
        event.preventDefault();
        transport.toggle();
      } else if (event.key === 'Escape') {
        useKit.getState().player?.stopAll();
      } else if (!command && !event.altKey && !event.repeat) {
        if (event.code === 'KeyX' && useComparing.getState().other) return changeSides();
        const { simulatedKit, keyVelocity, openness } = useInputs.getState();
        const pad = simulatedKit?.pads.find((p) => event.code === `Key${p.key}`);
        if (simulatedKit && pad) strikePad(simulatedKit, pad, keyVelocity, event.shiftKey);
        else if (simulatedKit && event.code === 'KeyC') movePedal(simulatedKit, openness > 0 ? 0 : 127);
      }
    };
    window.addEventListener('keydown', down);
    return () => window.removeEventListener('keydown', down);
  }, [navigate, kitId]);
}
