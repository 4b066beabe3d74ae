import { type ComponentType, lazy } from 'react';

type Page = ComponentType<Record<string, never>>;

const waiting: (() => Promise<unknown>)[] = [];

/** A page whose script comes when it is opened, or soon after the first one stands. */
function page(load: () => Promise<{ default: Page }>) {
  waiting.push(load);
  return lazy(load);
}

/**
 * Fetches the scripts of all pages, one after the other: where there is no service worker, as on a phone without HTTPS, a page must open
 * with the ledger gone all the same.
 */
export async function fetchAllPages(): Promise<void> {
  for (const load of waiting.splice(0)) {
    try {
      await load();
    } catch {
      // Out of reach; the page asks again when it is opened.
    }
  }
}

export const ArrivePage = page(() => import('./visits/ArrivePage').then((m) => ({ default: m.ArrivePage })));
export const BoardPage = page(() => import('./boards/BoardPage').then((m) => ({ default: m.BoardPage })));
export const CallCardPage = page(() => import('./visits/CallCardPage').then((m) => ({ default: m.CallCardPage })));
export const CircuitPage = page(() => import('./circuits/CircuitPage').then((m) => ({ default: m.CircuitPage })));
export const CodesPage = page(() => import('./codes/CodesPage').then((m) => ({ default: m.CodesPage })));
export const ComparePage = page(() => import('./boards/ComparePage').then((m) => ({ default: m.ComparePage })));
export const DoorPage = page(() => import('./machines/DoorPage').then((m) => ({ default: m.DoorPage })));
export const FaultPage = page(() => import('./history/FaultPage').then((m) => ({ default: m.FaultPage })));
export const FunctionsPage = page(() =>
  import('./functions/FunctionsPage').then((m) => ({ default: m.FunctionsPage })),
);
export const HomePage = page(() => import('./home/HomePage').then((m) => ({ default: m.HomePage })));
export const LabelsPage = page(() => import('./labels/LabelsPage').then((m) => ({ default: m.LabelsPage })));
export const LayoutPage = page(() => import('./boards/LayoutPage').then((m) => ({ default: m.LayoutPage })));
export const LookPage = page(() => import('./visits/LookPage').then((m) => ({ default: m.LookPage })));
export const MachinePage = page(() => import('./machines/MachinePage').then((m) => ({ default: m.MachinePage })));
export const MachinesPage = page(() => import('./machines/MachinesPage').then((m) => ({ default: m.MachinesPage })));
export const StopwatchPage = page(() => import('./timing/StopwatchPage').then((m) => ({ default: m.StopwatchPage })));
export const PaperPage = page(() => import('./measuring/PaperPage').then((m) => ({ default: m.PaperPage })));
export const MeasurePage = page(() => import('./measuring/MeasurePage').then((m) => ({ default: m.MeasurePage })));
export const ModelPage = page(() => import('./models/ModelPage').then((m) => ({ default: m.ModelPage })));
export const NewMachinePage = page(() =>
  import('./machines/NewMachinePage').then((m) => ({ default: m.NewMachinePage })),
);
export const PersonPage = page(() => import('./people/PersonPage').then((m) => ({ default: m.PersonPage })));
export const PhotographPage = page(() =>
  import('./photographs/PhotographPage').then((m) => ({ default: m.PhotographPage })),
);
export const PhotographsPage = page(() =>
  import('./photographs/PhotographsPage').then((m) => ({ default: m.PhotographsPage })),
);
export const RecognisePage = page(() => import('./visits/RecognisePage').then((m) => ({ default: m.RecognisePage })));
export const SafePage = page(() => import('./safety/SafePage').then((m) => ({ default: m.SafePage })));
export const ReasonPage = page(() => import('./reason/ReasonPage').then((m) => ({ default: m.ReasonPage })));
export const ScanPage = page(() => import('./labels/ScanPage').then((m) => ({ default: m.ScanPage })));
export const SettingsPage = page(() => import('./settings/SettingsPage').then((m) => ({ default: m.SettingsPage })));
export const SheetPage = page(() => import('./wiring/SheetPage').then((m) => ({ default: m.SheetPage })));
export const ShopPage = page(() => import('./safety/ShopPage').then((m) => ({ default: m.ShopPage })));
export const SumsPage = page(() => import('./sums/SumsPage').then((m) => ({ default: m.SumsPage })));
export const TablesPage = page(() => import('./boards/TablesPage').then((m) => ({ default: m.TablesPage })));
export const TerminalImportPage = page(() =>
  import('./boards/TerminalImportPage').then((m) => ({ default: m.TerminalImportPage })),
);
export const VisitPage = page(() => import('./visits/VisitPage').then((m) => ({ default: m.VisitPage })));
export const WaitingPage = page(() => import('./outbox/WaitingPage').then((m) => ({ default: m.WaitingPage })));
export const WiringPage = page(() => import('./wiring/WiringPage').then((m) => ({ default: m.WiringPage })));
