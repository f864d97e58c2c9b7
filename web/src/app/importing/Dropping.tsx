/** Recordings can be dropped anywhere; a band at the top says so while files are dragged over the page. */
import { useEffect, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { useKit } from '../kit/kitStore';
import { filesOfDrop, nameOfDrop, useImporting } from './importing';

const holdsFiles = (event: DragEvent) => event.dataTransfer?.types.includes('Files') ?? false;

export function Dropping() {
  const [over, setOver] = useState(false);
  const navigate = useNavigate();
  const { kitId } = useParams();
  const open = useKit((s) => s.kit?.id);
  const waiting = useImporting((s) => s.waiting);
  const bring = useImporting((s) => s.bring);
  useEffect(() => {
    if (!waiting || waiting.kit !== open) return;
    useImporting.setState({ waiting: null });
    void bring(waiting.files, waiting.name);
  }, [waiting, open, bring]);
  useEffect(() => {
    let leaving: ReturnType<typeof setTimeout> | undefined;
    const drag = (event: DragEvent) => {
      if (!holdsFiles(event)) return;
      event.preventDefault();
      clearTimeout(leaving);
      setOver(true);
      // No event tells that a drag left the window, so the band hides when events stop.
      leaving = setTimeout(() => setOver(false), 400);
    };
    const drop = (event: DragEvent) => {
      setOver(false);
      if (!holdsFiles(event) || !event.dataTransfer) return;
      event.preventDefault();
      const name = nameOfDrop(event.dataTransfer);
      void filesOfDrop(event.dataTransfer).then((files) => bring(files, name));
      navigate(`/kits/${kitId}/recordings`);
    };
    window.addEventListener('dragover', drag);
    window.addEventListener('drop', drop);
    return () => {
      clearTimeout(leaving);
      window.removeEventListener('dragover', drag);
      window.removeEventListener('drop', drop);
    };
  }, [bring, navigate, kitId]);
  if (!over) return null;
  return (
    <p className="pointer-events-none fixed inset-x-0 top-0 z-50 bg-plum py-2 text-center font-semibold text-card">
      Drop to add recordings to the kit, or drop them on a piece to add them to it
    </p>
  );
}
