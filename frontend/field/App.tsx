import { useLiveQuery } from 'dexie-react-hooks';
import { Navigate, Route, Routes, useLocation } from 'react-router';
import { Fill } from './pages/Fill';
import { Interviews } from './pages/Interviews';
import { Me } from './pages/Me';
import { Pair } from './pages/Pair';
import { Today } from './pages/Today';
import { db, type DeviceRow } from './store/db';
import { SyncProvider } from './store/SyncProvider';
import { TROUBLES, troubleOf, type Trouble } from './store/troubles';
import { useTexts } from './texts/texts';
import { Boundary } from './ui/Boundary';
import { Unpaired } from './ui/Unpaired';

type Known = { device: DeviceRow | null } | { trouble: Trouble };

export function App() {
  const { pathname } = useLocation();
  const known = useLiveQuery<Known>(
    () =>
      db.device.get('me').then(
        (device) => ({ device: device ?? null }),
        (error: unknown) => ({ trouble: troubleOf(error) }),
      ),
    [],
  );
  if (known === undefined) return null;
  if ('trouble' in known) return <NothingKept trouble={known.trouble} />;
  const { device } = known;
  if (device === null)
    return (
      <Boundary at="pair">
        <Pair />
      </Boundary>
    );
  return (
    <SyncProvider>
      <Boundary at={pathname}>
        <Routes>
          <Route path="/" element={<Today device={device} />} />
          <Route path="/interviews" element={<Interviews />} />
          <Route path="/me" element={<Me device={device} />} />
          <Route path="/interviews/:uuid" element={<Fill />} />
          <Route path="*" element={<Navigate to="/" replace />} />
        </Routes>
      </Boundary>
    </SyncProvider>
  );
}

function NothingKept({ trouble }: { trouble: Trouble }) {
  const { t } = useTexts();
  return (
    <Unpaired title={t('nothingKept')}>
      <p className="note must" role="alert">
        {t(TROUBLES[trouble])}
      </p>
      <button
        type="button"
        className="wide-button"
        onClick={() => {
          window.location.reload();
        }}
      >
        {t('tryAgain')}
      </button>
    </Unpaired>
  );
}
