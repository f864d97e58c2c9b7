import { lazy, Suspense } from 'react';
import { Navigate, Route, Routes } from 'react-router';
import { Start } from '../views/start/Start';
import { Shell } from './Shell';

const Recordings = lazy(() => import('../views/recordings/Recordings'));
const Layers = lazy(() => import('../views/layers/Layers'));
const Notes = lazy(() => import('../views/notes/Notes'));
const Touch = lazy(() => import('../views/touch/Touch'));
const Routing = lazy(() => import('../views/routing/Routing'));
const Rehearsal = lazy(() => import('../views/rehearsal/Rehearsal'));
const Delivery = lazy(() => import('../views/delivery/Delivery'));

export function App() {
  return (
    <Suspense fallback={null}>
      <Routes>
        <Route path="/" element={<Start />} />
        <Route path="/kits/:kitId" element={<Shell />}>
          <Route index element={<Navigate to="layers" replace />} />
          <Route path="recordings" element={<Recordings />} />
          <Route path="layers" element={<Layers />} />
          <Route path="notes" element={<Notes />} />
          <Route path="touch" element={<Touch />} />
          <Route path="routing" element={<Routing />} />
          <Route path="rehearsal" element={<Rehearsal />} />
          <Route path="delivery" element={<Delivery />} />
        </Route>
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
    </Suspense>
  );
}
