import { lazy, useEffect } from 'react';
import { Navigate, Route, Routes, useLocation } from 'react-router';
import { Library } from '../views/library/Library';
import { Fault } from './Fault';
import { startFollowing } from './following';
import { Shell } from './Shell';

const VIEWS = {
  recordings: () => import('../views/recordings/Recordings'),
  layers: () => import('../views/layers/Layers'),
  notes: () => import('../views/notes/Notes'),
  touch: () => import('../views/touch/Touch'),
  routing: () => import('../views/routing/Routing'),
  rehearsal: () => import('../views/rehearsal/Rehearsal'),
  delivery: () => import('../views/delivery/Delivery'),
};
const Recordings = lazy(VIEWS.recordings);
const Layers = lazy(VIEWS.layers);
const Notes = lazy(VIEWS.notes);
const Touch = lazy(VIEWS.touch);
const Routing = lazy(VIEWS.routing);
const Rehearsal = lazy(VIEWS.rehearsal);
const Delivery = lazy(VIEWS.delivery);

/** Every step is fetched while nothing else is to do: it opens at once, and though the studio has gone. */
const fetchAll = async () => {
  for (const view of Object.values(VIEWS)) await view().catch(() => undefined);
};

export function App() {
  useEffect(startFollowing, []);
  useEffect(() => {
    const timer = setTimeout(() => void fetchAll(), 1500);
    return () => clearTimeout(timer);
  }, []);
  const { pathname } = useLocation();
  return (
    // Whatever stands around a step fails in words too, and never leaves the window white.
    <Fault of={pathname}>
      <Routes>
        <Route path="/" element={<Library />} />
        <Route path="/library/:kind" element={<Library />} />
        <Route path="/kits/:kitId" element={<Shell />}>
          {/* For addresses typed by hand; links name the step. It leads on after it is drawn, over a step pressed meanwhile. */}
          <Route index element={<Navigate to="layers" replace />} />
          <Route path="recordings" element={<Recordings />} />
          <Route path="layers" element={<Layers />} />
          <Route path="notes" element={<Notes />} />
          <Route path="touch" element={<Touch />} />
          <Route path="routing" element={<Routing />} />
          <Route path="rehearsal" element={<Rehearsal />} />
          <Route path="delivery" element={<Delivery />} />
          <Route path="*" element={<Navigate to="../layers" replace />} />
        </Route>
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
    </Fault>
  );
}
