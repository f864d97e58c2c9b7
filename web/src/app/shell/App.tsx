import { useEffect } from 'react';
import { Navigate, Route, Routes, useLocation } from 'react-router';
import { Library } from '../../views/library/Library';
import { Storage } from '../../views/library/Storage';
import { startFollowing } from '../kit/following';
import { Fault } from './Fault';
import { Help } from './Help';
import { Shell } from './Shell';
import { STEPS, type StepId } from './steps';
import { View, Views } from './views';

const views = new Views<StepId>({
  recordings: () => import('../../views/recordings/Recordings'),
  layers: () => import('../../views/layers/Layers'),
  notes: () => import('../../views/notes/Notes'),
  touch: () => import('../../views/touch/Touch'),
  routing: () => import('../../views/routing/Routing'),
  rehearsal: () => import('../../views/rehearsal/Rehearsal'),
  delivery: () => import('../../views/delivery/Delivery'),
});

export function App() {
  const { pathname } = useLocation();
  useEffect(startFollowing, []);
  const step = STEPS.find(({ id }) => pathname.endsWith(`/${id}`))?.id;
  useEffect(() => {
    // Loaded while the kit is opened.
    if (step) void views.expect(step);
  }, [step]);
  useEffect(() => {
    const timer = setTimeout(() => void views.expectAll(), 1500);
    return () => clearTimeout(timer);
  }, []);
  return (
    // An error around a step is shown in words and never leaves the window white.
    <Fault of={pathname}>
      <Help />
      <Routes>
        <Route path="/" element={<Library />} />
        <Route path="/library/storage" element={<Storage />} />
        <Route path="/library/:kind" element={<Library />} />
        <Route path="/kits/:kitId" element={<Shell />}>
          {/* For URLs typed by hand; links include the step. The redirect happens after drawing, so it could override a step pressed meanwhile. */}
          <Route index element={<Navigate to="layers" replace />} />
          {STEPS.map(({ id }) => (
            <Route key={id} path={id} element={<View key={id} from={views} of={id} />} />
          ))}
          <Route path="*" element={<Navigate to="../layers" replace />} />
        </Route>
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
    </Fault>
  );
}
