import { useStart } from '../visits/start';
import { SafeBand } from './SafeBand';

/** How safe it is, on a page that belongs to a visit without being a step of it; nothing once the visit has ended. */
export function VisitBand({ visitId }: { visitId: string | undefined }) {
  const start = useStart(visitId);
  return start.data && !start.data.hasEnded ? <SafeBand start={start.data} /> : null;
}
