import { Spin } from 'antd';
import { lazy, Suspense } from 'react';
import { Navigate, Outlet, Route, Routes, useLocation } from 'react-router';
import { ConfirmDialog } from './features/session/ConfirmDialog';
import { First } from './features/session/First';
import { SignIn } from './features/session/SignIn';
import { WayIn } from './features/session/WayIn';
import { useSession } from './features/session/session';
import { Studies } from './features/studies/Studies';
import { Boundary } from './ui/Boundary';
import { Frame } from './ui/Frame';
import { StudyFrame } from './ui/StudyFrame';
import { NotFound } from './ui/states';

const Logbook = lazy(() => import('./features/logbook/Logbook'));
const Plan = lazy(() => import('./features/plan/Plan'));
const StudyFacts = lazy(() => import('./features/plan/StudyFacts'));
const FieldsPage = lazy(() => import('./features/plan/registers/FieldsPage'));
const SamplesPage = lazy(() => import('./features/plan/samples/SamplesPage'));
const MapPage = lazy(() => import('./features/plan/ground/MapPage'));
const VisitsPage = lazy(() => import('./features/plan/visits/VisitsPage'));
const RegistersPage = lazy(() => import('./features/plan/registers/RegistersPage'));
const ScriptPage = lazy(() => import('./features/questionnaire/ScriptPage'));
const Field = lazy(() => import('./features/field/Field'));
const PhonesPart = lazy(() => import('./features/field/PhonesPart'));
const PracticePart = lazy(() => import('./features/field/PracticePart'));
const MapsPart = lazy(() => import('./features/field/maps/MapsPart'));
const PaperPart = lazy(() => import('./features/field/paper/PaperPart'));
const BatchPage = lazy(() => import('./features/field/paper/BatchPage'));
const Keying = lazy(() => import('./features/field/paper/Keying'));
const LinksPart = lazy(() => import('./features/field/links/LinksPart'));
const Ledger = lazy(() => import('./features/interviews/Ledger'));
const Reading = lazy(() => import('./features/interviews/Reading'));
const Checks = lazy(() => import('./features/checks/Checks'));
const Clean = lazy(() => import('./features/clean/Clean'));
const CopiesPage = lazy(() => import('./features/clean/Copies'));
const Combine = lazy(() => import('./features/combine/Combine'));
const MatchesPage = lazy(() => import('./features/combine/Matches'));
const Analyse = lazy(() => import('./features/analyse/Analyse'));
const PeoplePage = lazy(() => import('./features/people/PeoplePage'));
const RecordPage = lazy(() => import('./features/people/RecordPage'));
const Account = lazy(() => import('./features/session/Account'));
const ServerPage = lazy(() => import('./features/server/ServerPage'));
const HandOver = lazy(() => import('./features/handover/HandOver'));

export function Office() {
  const session = useSession();
  const { pathname, search } = useLocation();
  if (session.isPending) return <Waiting />;
  if (pathname === '/way-in') return <WayIn />;
  if (session.data?.is_new === true) return <First />;
  if (session.data?.name == null) return <SignIn />;
  if (followed(search)) return <Waiting />;
  return (
    <Suspense fallback={<Waiting />}>
      <Routes>
        <Route
          element={
            <Frame study={null}>
              <Boundary>
                <Outlet />
              </Boundary>
            </Frame>
          }
        >
          <Route path="/" element={<Studies />} />
          <Route path="/account" element={<Account />} />
          {session.data.is_administrator && <Route path="/server" element={<ServerPage />} />}
        </Route>
        <Route path="/studies/:studyId" element={<StudyFrame />}>
          <Route index element={<Logbook />} />
          <Route path="people" element={<PeoplePage />} />
          <Route path="record" element={<RecordPage />} />
          <Route path="plan" element={<Plan />}>
            <Route index element={<StudyFacts />} />
            <Route path="registers" element={<RegistersPage />} />
            <Route path="samples" element={<SamplesPage />} />
            <Route path="visits" element={<VisitsPage />} />
            <Route path="map" element={<MapPage />} />
          </Route>
          <Route path="plan/registers/fields/:questionnaireId" element={<FieldsPage />} />
          <Route path="questionnaire" element={<ScriptPage />} />
          <Route path="field" element={<Field />}>
            <Route index element={<PhonesPart />} />
            <Route path="maps" element={<MapsPart />} />
            <Route path="links" element={<LinksPart />} />
            <Route path="practice" element={<PracticePart />} />
            <Route path="paper" element={<PaperPart />} />
            <Route path="paper/:batchId" element={<BatchPage />} />
          </Route>
          <Route path="field/paper/:batchId/keying" element={<Keying />} />
          <Route path="interviews" element={<Ledger />} />
          <Route path="interviews/:interviewId" element={<Reading />} />
          <Route path="checks" element={<Checks />} />
          <Route path="clean" element={<Clean />} />
          <Route path="clean/copies" element={<CopiesPage />} />
          <Route path="combine" element={<Combine />} />
          <Route path="combine/:outsideId/matches" element={<MatchesPage />} />
          <Route path="analyse" element={<Analyse />} />
          <Route path="hand-over" element={<HandOver />} />
        </Route>
        <Route path="/studies" element={<Navigate to="/" replace />} />
        <Route
          path="*"
          element={
            <Frame study={null}>
              <NotFound />
            </Frame>
          }
        />
      </Routes>
      <ConfirmDialog />
    </Suspense>
  );
}

const Waiting = () => (
  <div className="waiting">
    <Spin />
  </div>
);

/** Whoever was sent here by a link that asks who they are goes back to it once they are signed in. */
function followed(search: string): boolean {
  const then = new URLSearchParams(search).get('then') ?? '';
  if (!/^\/answer\/[\w-]+$/.test(then)) return false;
  window.location.replace(then);
  return true;
}
