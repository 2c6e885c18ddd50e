import { useLiveQuery } from 'dexie-react-hooks';
import { Navigate, Route, Routes } from 'react-router';
import { Fill } from './pages/Fill';
import { Interviews } from './pages/Interviews';
import { Me } from './pages/Me';
import { Pair } from './pages/Pair';
import { Today } from './pages/Today';
import { db } from './store/db';
import { SyncProvider } from './store/SyncProvider';

export function App() {
  const device = useLiveQuery(async () => (await db.device.get('me')) ?? null, []);
  if (device === undefined) return null;
  if (device === null) return <Pair />;
  return (
    <SyncProvider>
      <Routes>
        <Route path="/" element={<Today device={device} />} />
        <Route path="/interviews" element={<Interviews />} />
        <Route path="/me" element={<Me device={device} />} />
        <Route path="/interviews/:uuid" element={<Fill />} />
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
    </SyncProvider>
  );
}
