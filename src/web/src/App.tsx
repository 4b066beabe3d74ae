import { Suspense } from 'react';
import { BrowserRouter, Link, Navigate, Route, Routes, useLocation } from 'react-router';
import * as pages from './pages';
import { usePerson } from './people/person';
import { Frame } from './ui/Frame';
import { PageBoundary } from './ui/PageBoundary';

export function App() {
  return (
    <BrowserRouter>
      <Book />
    </BrowserRouter>
  );
}

function Book() {
  const person = usePerson();
  const here = useLocation();
  if (!person && here.pathname !== '/person') {
    return <Navigate to="/person" replace state={{ from: here.pathname + here.search }} />;
  }
  return (
    <PageBoundary place={here.pathname}>
      <Suspense fallback={<TurningTo />}>
        <Routes>
          <Route path="/" element={<pages.HomePage />} />
          <Route path="/waiting" element={<pages.WaitingPage />} />
          <Route path="/machines" element={<pages.MachinesPage />} />
          <Route path="/person" element={<pages.PersonPage />} />
          <Route path="/machines/new" element={<pages.NewMachinePage />} />
          <Route path="/machines/:tag" element={<pages.MachinePage />} />
          <Route path="/machines/:tag/door" element={<pages.DoorPage />} />
          <Route path="/machines/:tag/boards/:positionId" element={<pages.BoardPage />} />
          <Route path="/machines/:tag/boards/:positionId/terminals" element={<pages.TerminalImportPage />} />
          <Route path="/machines/:tag/boards/:positionId/codes" element={<pages.CodesPage />} />
          <Route path="/machines/:tag/photographs" element={<pages.PhotographsPage />} />
          <Route path="/machines/:tag/settings" element={<pages.SettingsPage />} />
          <Route path="/machines/:tag/wiring" element={<pages.WiringPage />} />
          <Route path="/machines/:tag/circuit" element={<pages.CircuitPage />} />
          <Route path="/machines/:tag/functions" element={<pages.FunctionsPage />} />
          <Route path="/machines/:tag/sheet" element={<pages.SheetPage />} />
          <Route path="/photographs/:photographId" element={<pages.PhotographPage />} />
          <Route path="/board-types/:boardTypeId" element={<pages.TablesPage />} />
          <Route path="/board-types/:boardTypeId/layout" element={<pages.LayoutPage />} />
          <Route path="/board-types/:boardTypeId/compare/:otherId" element={<pages.ComparePage />} />
          <Route path="/visits/:visitId" element={<pages.VisitPage />} />
          <Route path="/visits/:visitId/arrive" element={<pages.ArrivePage />} />
          <Route path="/visits/:visitId/safe" element={<pages.SafePage />} />
          <Route path="/visits/:visitId/look" element={<pages.LookPage />} />
          <Route path="/visits/:visitId/reason" element={<pages.ReasonPage />} />
          <Route path="/visits/:visitId/boards/:positionId" element={<pages.RecognisePage />} />
          <Route path="/visits/:visitId/sums/:sumId?" element={<pages.SumsPage />} />
          <Route path="/sums/:sumId?" element={<pages.SumsPage />} />
          <Route path="/labels" element={<pages.LabelsPage />} />
          <Route path="/scan" element={<pages.ScanPage />} />
          <Route path="/shop" element={<pages.ShopPage />} />
          <Route path="/models/:modelId" element={<pages.ModelPage />} />
          <Route path="/visits/:visitId/call" element={<pages.CallCardPage />} />
          <Route path="/rounds/:roundId" element={<pages.MeasurePage />} />
          <Route path="/visits/:visitId/stopwatch" element={<pages.StopwatchPage />} />
          <Route path="/rounds/:roundId/paper" element={<pages.PaperPage />} />
          <Route path="/faults/:faultId" element={<pages.FaultPage />} />
          <Route path="*" element={<Nowhere />} />
        </Routes>
      </Suspense>
    </PageBoundary>
  );
}

/** A page that is still on its way: the iron bar stands, so that nothing jumps when it is there. */
function TurningTo() {
  return (
    <div role="status" className="min-h-dvh">
      <div className="h-[52px] bg-iron" />
      <p className="p-5 text-ink-2">Opening the page…</p>
    </div>
  );
}

function Nowhere() {
  return (
    <Frame title="No such page">
      <h2 className="title">This page is not in the ledger</h2>
      <Link to="/machines" className="link">
        All machines
      </Link>
    </Frame>
  );
}
