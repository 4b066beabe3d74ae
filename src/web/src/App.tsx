import { BrowserRouter, Link, Navigate, Route, Routes, useLocation } from 'react-router';
import { BoardPage } from './boards/BoardPage';
import { TerminalImportPage } from './boards/TerminalImportPage';
import { FaultPage } from './history/FaultPage';
import { MachinePage } from './machines/MachinePage';
import { MachinesPage } from './machines/MachinesPage';
import { NewMachinePage } from './machines/NewMachinePage';
import { MeasurePage } from './measuring/MeasurePage';
import { PersonPage } from './people/PersonPage';
import { usePerson } from './people/person';
import { Frame } from './ui/Frame';

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
      <Route path="/" element={<MachinesPage />} />
      <Route path="/person" element={<PersonPage />} />
      <Route path="/machines/new" element={<NewMachinePage />} />
      <Route path="/machines/:tag" element={<MachinePage />} />
      <Route path="/machines/:tag/boards/:positionId" element={<BoardPage />} />
      <Route path="/machines/:tag/boards/:positionId/terminals" element={<TerminalImportPage />} />
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
      <Link to="/" className="link">
        All machines
      </Link>
    </Frame>
  );
}
