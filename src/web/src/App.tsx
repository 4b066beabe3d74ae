import { BrowserRouter, Link, Navigate, Route, Routes, useLocation } from 'react-router';
import { BoardPage } from './boards/BoardPage';
import { LayoutPage } from './boards/LayoutPage';
import { CodesPage } from './codes/CodesPage';
import { LookPage } from './visits/LookPage';
import { LabelsPage } from './labels/LabelsPage';
import { ScanPage } from './labels/ScanPage';
import { TerminalImportPage } from './boards/TerminalImportPage';
import { ComparePage } from './boards/ComparePage';
import { TablesPage } from './boards/TablesPage';
import { HomePage } from './home/HomePage';
import { FaultPage } from './history/FaultPage';
import { MachinePage } from './machines/MachinePage';
import { MachinesPage } from './machines/MachinesPage';
import { NewMachinePage } from './machines/NewMachinePage';
import { MeasurePage } from './measuring/MeasurePage';
import { WaitingPage } from './outbox/WaitingPage';
import { PersonPage } from './people/PersonPage';
import { usePerson } from './people/person';
import { PhotographPage } from './photographs/PhotographPage';
import { PhotographsPage } from './photographs/PhotographsPage';
import { SettingsPage } from './settings/SettingsPage';
import { Frame } from './ui/Frame';
import { ModelPage } from './models/ModelPage';
import { SafePage } from './safety/SafePage';
import { ShopPage } from './safety/ShopPage';
import { ArrivePage } from './visits/ArrivePage';
import { CallCardPage } from './visits/CallCardPage';
import { RecognisePage } from './visits/RecognisePage';
import { VisitPage } from './visits/VisitPage';

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
    <Routes>
      <Route path="/" element={<HomePage />} />
      <Route path="/waiting" element={<WaitingPage />} />
      <Route path="/machines" element={<MachinesPage />} />
      <Route path="/person" element={<PersonPage />} />
      <Route path="/machines/new" element={<NewMachinePage />} />
      <Route path="/machines/:tag" element={<MachinePage />} />
      <Route path="/machines/:tag/boards/:positionId" element={<BoardPage />} />
      <Route path="/machines/:tag/boards/:positionId/terminals" element={<TerminalImportPage />} />
      <Route path="/machines/:tag/boards/:positionId/codes" element={<CodesPage />} />
      <Route path="/machines/:tag/photographs" element={<PhotographsPage />} />
      <Route path="/machines/:tag/settings" element={<SettingsPage />} />
      <Route path="/photographs/:photographId" element={<PhotographPage />} />
      <Route path="/board-types/:boardTypeId" element={<TablesPage />} />
      <Route path="/board-types/:boardTypeId/layout" element={<LayoutPage />} />
      <Route path="/board-types/:boardTypeId/compare/:otherId" element={<ComparePage />} />
      <Route path="/visits/:visitId" element={<VisitPage />} />
      <Route path="/visits/:visitId/arrive" element={<ArrivePage />} />
      <Route path="/visits/:visitId/safe" element={<SafePage />} />
      <Route path="/visits/:visitId/look" element={<LookPage />} />
      <Route path="/visits/:visitId/boards/:positionId" element={<RecognisePage />} />
      <Route path="/labels" element={<LabelsPage />} />
      <Route path="/scan" element={<ScanPage />} />
      <Route path="/shop" element={<ShopPage />} />
      <Route path="/models/:modelId" element={<ModelPage />} />
      <Route path="/visits/:visitId/call" element={<CallCardPage />} />
      <Route path="/rounds/:roundId" element={<MeasurePage />} />
      <Route path="/faults/:faultId" element={<FaultPage />} />
      <Route path="*" element={<Nowhere />} />
    </Routes>
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
