import { Navigate, Route, Routes, useLocation } from 'react-router';
import { ChoosePin } from './pages/ChoosePin';
import { Fill } from './pages/Fill';
import { Interviews } from './pages/Interviews';
import { MapPage } from './pages/MapPage';
import { Me } from './pages/Me';
import { Pair } from './pages/Pair';
import { Read } from './pages/Read';
import { ReceiptsPage } from './pages/Receipts';
import { Today } from './pages/Today';
import { UnitPage } from './pages/UnitPage';
import { Units } from './pages/Units';
import { VisitPage } from './pages/VisitPage';
import { Visits } from './pages/Visits';
import type { Access } from './store/access';
import type { DeviceRow } from './store/db';
import { Unlock } from './pages/Unlock';
import { Waiting } from './pages/Waiting';
import { SyncProvider } from './store/SyncProvider';
import { TROUBLES, type Trouble } from './store/troubles';
import { useAccess, useIdleLock } from './store/useAccess';
import { useTexts } from './texts/texts';
import { Boundary } from './ui/Boundary';
import { Unpaired } from './ui/Unpaired';

export function App() {
  const { pathname } = useLocation();
  const known = useAccess();
  if (known === undefined) return null;
  if ('trouble' in known) return <NothingKept trouble={known.trouble} />;
  const { access, device } = known;
  if (access === 'unpaired' || device === undefined)
    return (
      <Boundary at="pair">
        <Pair />
      </Boundary>
    );
  return (
    <SyncProvider>
      <Boundary at={`${access} ${pathname}`}>
        {access === 'open' ? <Pages device={device} /> : <Door access={access} device={device} />}
      </Boundary>
    </SyncProvider>
  );
}

/** What stands before the pages. */
function Door({ access, device }: { access: Exclude<Access, 'open' | 'unpaired'>; device: DeviceRow }) {
  switch (access) {
    case 'waiting':
      return <Waiting />;
    case 'choose':
      return <ChoosePin />;
    case 'locked':
      return <Unlock device={device} />;
  }
}

function Pages({ device }: { device: DeviceRow }) {
  useIdleLock(device.settings?.pin === true ? device.settings.lock_minutes : undefined);
  return (
    <Routes>
      <Route path="/" element={<Today device={device} />} />
      <Route path="/interviews" element={<Interviews device={device} />} />
      <Route path="/map" element={<MapPage />} />
      <Route path="/visits" element={<Visits />} />
      <Route path="/visits/:visit" element={<VisitPage />} />
      <Route path="/units" element={<Units />} />
      <Route path="/units/:unit" element={<UnitPage />} />
      <Route path="/receipts" element={<ReceiptsPage device={device} />} />
      <Route path="/me" element={<Me device={device} />} />
      <Route path="/interviews/:uuid" element={<Fill />} />
      <Route path="/interviews/:uuid/read" element={<Read />} />
      <Route path="*" element={<Navigate to="/" replace />} />
    </Routes>
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
